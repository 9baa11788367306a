// Package report is the service report: what it says. Paper is how that is printed.
//
// What a report says is kept whole with the entry that made it, and its digest is printed on it. From what it says and the photos it
// names, anybody with this program prints the same bytes again: the phone that made it, and the office.
package report

import (
	"encoding/base32"
	"encoding/hex"
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/money"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/work"
)

// Layout is what a report shows, and in which order.
type Layout string

const (
	Full   Layout = "full"   // everything
	Short  Layout = "short"  // one or two pages: no hours by person, no answers of sheets
	Photos Layout = "photos" // the photos first, large
)

// Values lists the layouts, for generated types.
func (Layout) Values() []string { return []string{string(Full), string(Short), string(Photos)} }

// Report is what a service report says. Times carry the zone they are shown in.
type Report struct {
	Layout   Layout    `json:"layout"`
	Language string    `json:"language"` // of the headings: one of Languages
	At       time.Time `json:"at"`       // when it was made
	By       string    `json:"by"`       // who made it
	// CheckAt is the address that a code is added to, to check it.
	CheckAt string `json:"checkAt,omitempty"`
	Firm    Firm   `json:"firm"`
	// Currency is that of the prices; "" in reports of before it was noted.
	Currency money.Currency `json:"currency,omitempty"`
	Order    string         `json:"order"` // work order number
	Customer string         `json:"customer"`
	Site     string         `json:"site"`
	Address  string         `json:"address,omitempty"`
	Asset    string         `json:"asset,omitempty"`
	Serial   string         `json:"serial,omitempty"`
	Problem  string         `json:"problem"`
	Outcome  string         `json:"outcome,omitempty"` // in words
	Reason   string         `json:"reason,omitempty"`  // of the outcome
	Ended    time.Time      `json:"ended,omitzero"`

	People       []Time         `json:"people"`
	Tasks        []signoff.Line `json:"tasks"`
	Findings     []Finding      `json:"findings"`
	Readings     []Reading      `json:"readings"`
	Sheets       []Sheet        `json:"sheets"`
	Parts        []signoff.Line `json:"parts"`
	Advice       []Advice       `json:"advice"`
	Photos       []Photo        `json:"photos"`
	Signatures   []Signature    `json:"signatures"`
	Unsigned     string         `json:"unsigned,omitempty"`     // why nobody signed
	PhotosBeside int            `json:"photosBeside,omitempty"` // photos of the visit that are not on the report
}

// Firm is the letterhead.
type Firm struct {
	Name  string   `json:"name"`
	Lines []string `json:"lines,omitempty"` // under the name: address, registration
	Phone string   `json:"phone,omitempty"`
	Logo  *Photo   `json:"logo,omitempty"`
	Intro string   `json:"intro,omitempty"` // above the work
	Close string   `json:"close,omitempty"` // below the signatures
}

// Time is one person's time on the visit.
type Time struct {
	Name  string      `json:"name"`
	Hours labor.Hours `json:"hours"` // seconds
}

// Finding is what somebody wrote down.
type Finding struct {
	At   time.Time `json:"at"`
	Name string    `json:"name"`
	Text string    `json:"text"`
}

// Reading is a measured value with the limits it was held against.
type Reading struct {
	Asset  string         `json:"asset"`
	Point  string         `json:"point"`
	Value  string         `json:"value"`
	Unit   string         `json:"unit"`
	Limits reading.Limits `json:"limits"`
	Level  reading.Level  `json:"level"`
}

// Sheet is a check sheet as it was answered.
type Sheet struct {
	Title string         `json:"title"`
	Lines []signoff.Line `json:"lines"`
}

// Advice is a recommendation, and what the customer made of it.
type Advice struct {
	Text  string       `json:"text"`
	Lines []AdviceLine `json:"lines"`
}

// AdviceLine is one priced line of a recommendation.
type AdviceLine struct {
	Text     string           `json:"text"`
	Quantity decimal.Decimal  `json:"quantity"`
	Unit     string           `json:"unit,omitempty"`
	Price    *decimal.Decimal `json:"price,omitempty"`  // of one
	Answer   string           `json:"answer,omitempty"` // "accepted", "declined", or nothing yet
}

// Photo is a picture by its content.
type Photo struct {
	Hash    string    `json:"hash"` // SHA-256, hexadecimal
	Type    string    `json:"type"` // image/jpeg or image/png
	Size    int64     `json:"size"` // bytes
	At      time.Time `json:"at,omitzero"`
	Caption string    `json:"caption,omitempty"`
	Moment  string    `json:"moment,omitempty"` // before or after
	// Marks are drawn over it.
	Marks []work.Mark `json:"marks,omitempty"`
}

// Signature is a sign-off as it is printed.
type Signature struct {
	Name    string          `json:"name"`
	Role    string          `json:"role"`
	At      time.Time       `json:"at"`
	Strokes signoff.Strokes `json:"strokes"`
	Digest  string          `json:"digest"`            // of what was signed
	Changed bool            `json:"changed,omitempty"` // since
}

// MaxPhotos and MaxPhotoBytes bound what one report carries, so that it stays under 10 MB.
const (
	MaxPhotos     = 60
	MaxPhotoBytes = 9 << 20
)

// Languages are those that headings are there in. The first is used for any other.
var Languages = []string{"en"}

// Check says what can't be printed.
func (r Report) Check() error {
	if !slices.Contains(r.Layout.Values(), string(r.Layout)) {
		return msg.New("report.layout")
	}
	var bytes int64
	for _, p := range r.Photos {
		if p.Type != "image/jpeg" && p.Type != "image/png" {
			return msg.New("file.type", "type", p.Type)
		}
		if raw, err := hex.DecodeString(p.Hash); err != nil || len(raw) != 32 {
			return msg.New("file.hash_unreadable")
		}
		if err := work.CheckMarks(p.Marks); err != nil {
			return err
		}
		bytes += p.Size
	}
	if len(r.Photos) > MaxPhotos || bytes > MaxPhotoBytes {
		return msg.New("report.photos")
	}
	return nil
}

// Digest is the SHA-256 of what the report says, in canonical JSON, as lower-case hexadecimal.
func (r Report) Digest() (string, error) { return signoff.Digest(r) }

var plain = base32.NewEncoding("0123456789ABCDEFGHJKMNPQRSTVWXYZ").WithPadding(base32.NoPadding)

// codeLength letters of a digest make its code: 100 bits, which nobody finds by trying.
const codeLength = 20

// Code is a digest in short, to be read off paper and typed: four groups of five, without letters that look like digits.
func Code(digest string) string {
	raw, err := hex.DecodeString(digest)
	if err != nil || len(raw) < 16 {
		return ""
	}
	text := plain.EncodeToString(raw)[:codeLength]
	return strings.Join([]string{text[:5], text[5:10], text[10:15], text[15:]}, "-")
}

// ReadCode reads a code as somebody typed it; "" when it can't be one.
func ReadCode(typed string) string {
	text := strings.Map(func(r rune) rune {
		switch r {
		case 'O', 'o':
			return '0'
		case 'I', 'i', 'L', 'l':
			return '1'
		case '-', ' ', '\t', '–', '—':
			return -1
		}
		return r
	}, strings.ToUpper(typed))
	if len(text) != codeLength {
		return ""
	}
	if _, err := plain.DecodeString(text + "0000"); err != nil {
		return ""
	}
	return strings.Join([]string{text[:5], text[5:10], text[10:15], text[15:]}, "-")
}

// Files are the hashes of all pictures it takes to print the report.
func (r Report) Files() []string {
	out := []string{}
	if r.Firm.Logo != nil {
		out = append(out, r.Firm.Logo.Hash)
	}
	for _, p := range r.Photos {
		out = append(out, p.Hash)
	}
	return out
}
