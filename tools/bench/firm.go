package main

import (
	"context"
	"fmt"
	"math/rand"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing/fstest"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/oklog/ulid/v2"
	"github.com/shopspring/decimal"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/store"
)

// The company that is measured.
const (
	technicians = 200
	parts       = 5000
	sites       = 400
	assetsEach  = 3
	packVisits  = 80 // of the technician whose first day pack is measured, each at another site
	lastWeeks   = 20 // days that a company has without history: more than devices hold
	eachVisit   = 24 // entries of a visit, of which each technician has one a day
)

// firm is a company on a real server and store.
type firm struct {
	store  *store.Store
	server *api.Server
	office *ledgertest.Maker
	phones []*ledgertest.Maker
	now    time.Time // the last day of its history
	cookie string
	made   int // visits
	ids    *rand.Rand
}

func person(i int) string { return fmt.Sprintf("t%03d", i) }

// found opens a company, and makes it when there is none in the directory yet.
func found(ctx context.Context, dir string) *firm {
	s, err := store.Open(ctx, dir)
	check(err)
	f := &firm{store: s, office: ledgertest.NewMaker("office", 1), ids: rand.New(rand.NewSource(time.Now().UnixNano()))}
	for i := range technicians {
		f.phones = append(f.phones, ledgertest.NewMaker(person(i)+"-old", int64(1000+i)))
	}
	f.server, err = api.New(api.Config{Store: s, Now: func() time.Time { return f.now },
		Assets: fstest.MapFS{"index.html": {Data: []byte("x")}}})
	check(err)
	f.now = ledgertest.Start
	if f.count(ctx) > 0 {
		return f
	}
	rec := func(typ, id string, body any) ledger.Entry {
		return f.office.Entry("office", "record.created", typ, id, body)
	}
	all := f.office.Company()
	for i := range technicians {
		all = append(all, rec("person", person(i), records.Person{Name: "Technician " + person(i),
			Roles: []records.Role{records.Technician}, Van: "van-" + person(i)}),
			rec("place", "van-"+person(i), stock.Place{Name: "Van " + person(i), Kind: "van", Person: person(i)}),
			f.office.Entry("office", "stock.counted", "stock", "van-"+person(i),
				ledger.Count{Part: "P1", Quantity: decimal.NewFromInt(1000)}))
	}
	for i := range parts {
		all = append(all, rec("part", fmt.Sprintf("N%04d", i), stock.Part{Number: fmt.Sprintf("N%04d", i),
			Name: fmt.Sprintf("Mechanical seal %d mm, silicon carbide", i), Category: "Seals", Unit: "each",
			Price: decimal.New(int64(1000+i), -2), Codes: []string{fmt.Sprintf("40%011d", i)}}))
	}
	for i := range sites {
		all = append(all, rec("customer", fmt.Sprintf("K%03d", i), records.Customer{Name: fmt.Sprintf("Harbour Dairy %d", i),
			Address: fmt.Sprintf("%d Quay Side", i)}),
			rec("site", siteOf(i), records.Site{Customer: fmt.Sprintf("K%03d", i), Name: fmt.Sprintf("Pump House %d", i),
				Address: "Kiln Road", Lat: 54, Lon: -9, Access: "Key at the gatehouse, ask for the duty engineer."}))
		for k := range assetsEach {
			all = append(all, rec("asset", fmt.Sprintf("M%03d-%d", i, k),
				records.Asset{Site: siteOf(i), Name: "Booster set", Kind: "booster", Maker: "Aldane", Serial: fmt.Sprint(i*10 + k)}))
		}
	}
	f.write(ctx, all)
	return f
}

func siteOf(i int) string { return fmt.Sprintf("H%03d", i%sites) }

func (f *firm) close() {
	f.server.Close()
	_ = f.store.Close()
}

func (f *firm) write(ctx context.Context, entries []ledger.Entry) {
	check(f.store.Write(ctx, func(tx *store.Tx) error {
		for _, e := range entries {
			if _, err := tx.Record(e, e.At); err != nil {
				return fmt.Errorf("%s: %w", e.Kind, err)
			}
		}
		return nil
	}))
}

func (f *firm) count(ctx context.Context) (n int64) {
	check(f.store.Read(ctx, func(tx *store.Tx) (err error) { n, err = tx.Seq(); return err }))
	return n
}

func (f *firm) gigabytes() float64 {
	var n int64
	for _, end := range []string{"", "-wal"} {
		if info, err := os.Stat(filepath.Join(f.store.Dir(), store.FileName+end)); err == nil {
			n += info.Size()
		}
	}
	return float64(n) / 1e9
}

// visit makes the entries of a visit of a technician on a day, done when done says so.
func (f *firm) visit(tech int, day time.Time, done bool) []ledger.Entry {
	f.made++
	order, id := fmt.Sprintf("O%07d", f.made), fmt.Sprintf("B%07d", f.made)
	i := (f.made*7 + tech) % sites
	at := func(e ledger.Entry) ledger.Entry { return f.at(e, day.Add(-time.Hour)) }
	out := []ledger.Entry{
		at(f.office.Entry("office", "work.opened", "workorder", order,
			work.Order{Number: fmt.Sprint(10000 + f.made), Customer: fmt.Sprintf("K%03d", i), Site: siteOf(i),
				Asset: fmt.Sprintf("M%03d-0", i), Problem: "Quarterly service of the booster set", Priority: work.Normal, Minutes: 60,
				Sheets: []string{"pump@1"}})),
		at(f.office.Entry("office", "visit.planned", "visit", id, ledger.Plan{Order: order, Technician: person(tech), Start: day,
			Minutes: 60})),
		at(f.office.Entry("office", "visit.sent", "visit", id, ledger.Nothing{})),
	}
	if !done {
		return out
	}
	for k, e := range aVisit(f.phones[tech], person(tech), id) {
		out = append(out, f.at(e, day.Add(time.Duration(k)*3*time.Minute)))
	}
	return append(out, at(f.office.Entry("office", "visit.reviewed", "visit", id, ledger.Nothing{})))
}

// at puts an entry at a time, with an id of that time, as if it had been made then.
func (f *firm) at(e ledger.Entry, at time.Time) ledger.Entry {
	e.At, e.ID = at, ulid.MustNew(uint64(at.UnixMilli()), f.ids).String()
	return e
}

// grow adds history until there are so many entries, a working day of all technicians at a time; and vans are counted each
// month.
func (f *firm) grow(ctx context.Context, entries int) {
	if n := f.count(ctx); n > int64(entries)/2 {
		check(f.store.Read(ctx, func(tx *store.Tx) error {
			last, err := tx.LastDay()
			f.now = last.Add(7 * time.Hour)
			f.made = int(n)
			return err
		}))
		return // it was kept
	}
	_, err := f.store.Sessions().Exec("PRAGMA synchronous = OFF")
	check(err)
	began, founded := time.Now(), f.count(ctx)
	for day := 0; ; day++ {
		n := f.count(ctx)
		if n-founded >= int64(entries) {
			break
		}
		var all []ledger.Entry
		for tech := range technicians {
			if day%20 == 0 {
				e := f.office.Entry("office", "stock.counted", "stock", "van-"+person(tech),
					ledger.Count{Part: "P1", Quantity: decimal.NewFromInt(100)})
				all = append(all, f.at(e, f.now))
			}
			all = append(all, f.visit(tech, f.now, true)...)
		}
		f.write(ctx, all)
		f.now = f.now.AddDate(0, 0, 1)
		if day%50 == 49 {
			fmt.Fprintf(os.Stderr, "… %d entries, %.0f /s\n", n, float64(n)/time.Since(began).Seconds())
		}
	}
	_, err = f.store.Sessions().Exec("PRAGMA synchronous = FULL")
	check(err)
}

// lately makes the present: the visits of the days around now, and the technician with a full pack.
func (f *firm) lately(ctx context.Context) {
	hash, err := argon2id.CreateHash("benchmark", &argon2id.Params{Memory: 8, Iterations: 1, Parallelism: 1, SaltLength: 8, KeyLength: 16})
	check(err)
	check(f.store.Write(ctx, func(tx *store.Tx) error {
		for _, login := range append([]string{"office"}, people()...) {
			if err := tx.PutAccount(store.Account{Login: login, Person: login, Hash: hash}); err != nil {
				return err
			}
		}
		return nil
	}))
	f.cookie = f.signIn("office")
	var all []ledger.Entry
	for d := -6; d <= 3; d++ {
		for tech := 1; tech < technicians; tech++ {
			all = append(all, f.visit(tech, f.now.AddDate(0, 0, d).Add(time.Duration(tech%8)*time.Minute), d < 0)...)
		}
	}
	for i := range packVisits {
		all = append(all, f.visit(0, f.now.AddDate(0, 0, i%20-8), false)...)
	}
	f.write(ctx, all)
}

func people() (out []string) {
	for i := range technicians {
		out = append(out, person(i))
	}
	return out
}

func (f *firm) signIn(login string) string {
	answer := f.call(http.MethodPost, "/api/signin", "", fmt.Sprintf(`{"login":%q,"password":"benchmark"}`, login))
	if answer.Code != http.StatusOK {
		check(fmt.Errorf("sign in %s: %s", login, answer.Body))
	}
	return answer.Header().Get("Set-Cookie")
}

func (f *firm) call(method, path, cookie, body string) *httptest.ResponseRecorder {
	r := httptest.NewRequest(method, path, strings.NewReader(body))
	r.Header.Set("Cookie", cookie)
	r.Header.Set("Accept-Encoding", "gzip")
	answer := httptest.NewRecorder()
	f.server.ServeHTTP(answer, r)
	return answer
}
