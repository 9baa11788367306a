package api

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/shopspring/decimal"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// RecordUsed is what was used for a customer, at a site or on a machine, and the photos that were taken there: over the latest orders.
type RecordUsed struct {
	Parts  []UsedPart    `json:"parts"`  // what was used last first
	Photos []RecordPhoto `json:"photos"` // the latest first
	Orders int           `json:"orders"` // that were looked through
	More   bool          `json:"more"`   // there are older ones
	Cut    bool          `json:"cut"`    // there are more photos
}

// UsedPart is a part over all that was used of it.
type UsedPart struct {
	Part     string          `json:"part"`
	Number   string          `json:"number"`
	Name     string          `json:"name"`
	Unit     string          `json:"unit"`
	Quantity decimal.Decimal `json:"quantity"`
	Visits   int             `json:"visits"`
	Last     time.Time       `json:"last"`
	Visit    string          `json:"visit"` // the last
}

// RecordPhoto is a photo that was taken on a visit and has arrived.
type RecordPhoto struct {
	Hash    string    `json:"hash"`
	Caption string    `json:"caption"`
	At      time.Time `json:"at"`
	Visit   string    `json:"visit"`
}

const (
	// mostUsed is how many orders are looked through, mostLooked for how many photos it is asked whether they have arrived, and mostShown
	// how many are given.
	mostUsed   = 100
	mostLooked = 200
	mostShown  = 60
)

// recordUsed gathers the parts used and the photos taken.
func (s *Server) recordUsed(c *gin.Context) (*RecordUsed, error) {
	ref := ledger.Ref{Type: c.Param("type"), ID: c.Param("id")}
	return read(s, c, func(tx *store.Tx) (*RecordUsed, error) {
		if !slices.Contains([]string{"customer", "site", "asset"}, ref.Type) {
			return nil, unknownRecord(nil, ref)
		}
		d, err := tx.Doc(ref)
		if err != nil || d.Body == nil {
			return nil, unknownRecord(err, ref)
		}
		orders, err := tx.OrdersAbout(ref)
		if err != nil {
			return nil, err
		}
		u := used{tx: tx, ref: ref, parts: map[string]*UsedPart{}, out: &RecordUsed{Parts: []UsedPart{}, Photos: []RecordPhoto{}}}
		u.out.Orders, u.out.More = min(len(orders), mostUsed), len(orders) > mostUsed
		for _, o := range orders[:u.out.Orders] {
			if err := u.order(o.ID); err != nil {
				return nil, err
			}
		}
		return u.out, u.finish()
	})
}

type used struct {
	tx    *store.Tx
	ref   ledger.Ref
	parts map[string]*UsedPart
	out   *RecordUsed
}

// order adds what its visits used and showed. On a machine's page, what is about another machine at the site is left out.
func (u *used) order(id string) error {
	var o work.Order
	if _, err := u.tx.Load("workorder", id, &o); err != nil {
		return err
	}
	for _, visit := range o.Visits {
		var v work.Visit
		if _, err := u.tx.Load("visit", visit, &v); err != nil {
			return err
		}
		ours := func(asset string) bool { return u.ref.Type != "asset" || asset == "" || asset == u.ref.ID }
		seen := map[string]bool{}
		for _, p := range v.Parts {
			if p.Struck || !ours(p.Asset) {
				continue
			}
			sum := u.parts[p.Part]
			if sum == nil {
				sum = &UsedPart{Part: p.Part}
				u.parts[p.Part] = sum
			}
			sum.Quantity = sum.Quantity.Add(p.Quantity)
			if !seen[p.Part] {
				seen[p.Part] = true
				sum.Visits++
			}
			if p.At.After(sum.Last) {
				sum.Last, sum.Visit = p.At, visit
			}
		}
		for _, f := range v.Files {
			if !f.Struck && strings.HasPrefix(f.Type, "image/") && ours(f.About.Asset) {
				u.out.Photos = append(u.out.Photos, RecordPhoto{f.Hash, cmp.Or(f.Caption, f.Name), f.At, visit})
			}
		}
	}
	return nil
}

// finish names the parts, and leaves out photos that have not arrived.
func (u *used) finish() error {
	for id, p := range u.parts {
		var part stock.Part
		if _, err := u.tx.Load("part", id, &part); err != nil {
			return err
		}
		p.Number, p.Name, p.Unit = part.Number, cmp.Or(part.Name, id), part.Unit
		u.out.Parts = append(u.out.Parts, *p)
	}
	slices.SortFunc(u.out.Parts, func(a, b UsedPart) int { return cmp.Or(b.Last.Compare(a.Last), strings.Compare(a.Part, b.Part)) })
	slices.SortFunc(u.out.Photos, func(a, b RecordPhoto) int { return cmp.Or(b.At.Compare(a.At), strings.Compare(a.Hash, b.Hash)) })
	all := u.out.Photos
	u.out.Photos = []RecordPhoto{}
	for _, p := range all[:min(len(all), mostLooked)] {
		_, here, err := u.tx.File(p.Hash)
		if err != nil {
			return err
		}
		switch {
		case !here:
		case len(u.out.Photos) < mostShown:
			u.out.Photos = append(u.out.Photos, p)
		default:
			u.out.Cut = true
		}
	}
	u.out.Cut = u.out.Cut || len(all) > mostLooked
	return nil
}
