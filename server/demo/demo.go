// Package demo makes a made-up firm that services pumps and water treatment along a made-up coast, with two years of work
// behind it and today half done. The same day and seed give the same firm.
package demo

import (
	"context"
	"fmt"
	"maps"
	"math"
	"math/rand"
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/company"
	"iter.example/iter/server/files"
	"iter.example/iter/server/store"
)

// Password opens every demo account.
const Password = "pumps and pipes"

// Accounts are offered on the sign-in page.
func Accounts() []api.DemoAccount {
	out := []api.DemoAccount{
		{Login: "ansa", Password: Password, Name: "Ansa Vane", Roles: []records.Role{records.Technician}},
		{Login: "dilys", Password: Password, Name: "Dilys Rusk", Roles: []records.Role{records.Technician}},
	}
	for _, o := range office {
		out = append(out, api.DemoAccount{Login: o[0], Password: Password, Name: o[1], Roles: []records.Role{records.Role(o[2])}})
	}
	return out
}

// Zone is where the coast is.
const Zone = "Europe/Dublin"

// The hours between which half of a working day is done.
const fromHour, toHour = 11, 15

// ZoneAt is the zone of the firm's clock for a demo that begins now: where the coast is, when half of a working day is done there, and
// otherwise one in which it is past noon. Nobody is at work at three in the morning because somebody looks at breakfast.
func ZoneAt(now time.Time) string {
	if loc, err := time.LoadLocation(Zone); err == nil {
		if h := now.In(loc).Hour(); fromHour <= h && h <= toHour {
			return Zone
		}
	}
	switch east := 12 - now.UTC().Hour(); {
	case east > 0:
		return fmt.Sprintf("Etc/GMT-%d", east) // the sign is the other way round in these names
	case east < 0:
		return fmt.Sprintf("Etc/GMT+%d", -east)
	}
	return "Etc/GMT"
}

// Fill makes the firm in an empty store, with days of history before now. Its people go by the clock of loc.
func Fill(ctx context.Context, s *store.Store, now time.Time, loc *time.Location, seed int64, days int) error {
	now = now.Truncate(time.Second)
	g := &generator{r: rand.New(rand.NewSource(seed)), rare: rand.New(rand.NewSource(seed + 1)), ids: rand.New(rand.NewSource(seed + 2)),
		now: now, settings: company.Settings("Vella Sound Pumps", loc, now), number: 2000, free: map[string]time.Time{}}
	g.settings.Company.Phone = "+353 1 555 0100"
	g.settings.Stores.Suppliers, g.settings.Stores.Taxes = suppliers, taxes
	g.settle()
	var err error
	if g.files, err = files.Open(s); err != nil {
		return err
	}
	founded := g.local(now.AddDate(0, 0, -days-1))
	g.founded = founded
	if err := g.in(ctx, s, func() error { return g.found(founded) }); err != nil {
		return err
	}
	// A transaction a month keeps each of a size to be held in memory.
	for from := -days; from <= horizon; from += 30 {
		if err := g.in(ctx, s, func() error {
			for d := from; d < from+30 && d <= horizon; d++ {
				if err := g.day(d); err != nil {
					return err
				}
			}
			return nil
		}); err != nil {
			return err
		}
	}
	if err := g.in(ctx, s, func() error {
		for _, f := range []func() error{g.unplaced, g.correct, g.approve, g.identify, g.lately, g.stores, g.endings, g.off, g.upkeep} {
			if err := f(); err != nil {
				return err
			}
		}
		return nil
	}); err != nil {
		return err
	}
	return g.post(ctx, s)
}

// horizon is how many days ahead there is work planned.
const horizon = 10

type generator struct {
	r        *rand.Rand
	ids      *rand.Rand // of entries
	rare     *rand.Rand // for what was added later, so that the rest stays as it was
	w        *company.Writer
	files    *files.Dir
	papers   map[string]map[string]records.Document // by kind of machine
	roll     []work.FileRef                         // photos there are
	phones   map[string]*company.Writer
	now      time.Time
	settings ledger.Settings
	number   int
	visits   int
	free     map[string]time.Time // when each technician's last visit ended
	homes    map[string]*records.Point
	sites    []site
	// sheetRefs are the check sheets there are, and founded is when the firm began to keep books.
	sheetRefs []string
	founded   time.Time
}

type site struct {
	id, name, customer, contact, phone string
	at                                 records.Point
	assets                             []asset
}

type asset struct {
	id, kind, name string
}

func (g *generator) in(ctx context.Context, s *store.Store, f func() error) error {
	return s.Write(ctx, func(tx *store.Tx) error {
		g.w = &company.Writer{Tx: tx, Now: g.now, IDs: g.ids}
		g.phones = map[string]*company.Writer{}
		for _, t := range technicians {
			g.phones[t[0]] = &company.Writer{Tx: tx, Now: g.now, Replica: "phone-" + t[0], IDs: g.ids}
			if err := tx.PutDevice(store.Device{Replica: "phone-" + t[0], Person: t[0], Contact: g.now,
				Agent: "Chrome, Android"}); err != nil {
				return err
			}
		}
		return f()
	})
}

func (g *generator) local(t time.Time) time.Time { return g.settings.Company.Zone.In(t) }

func (g *generator) record(typ, id string, at time.Time, body any) error {
	_, err := g.w.Append("record.created", ledger.Ref{Type: typ, ID: id}, company.Program, at, body, nil)
	return err
}

func dec(s string) *decimal.Decimal {
	if s == "" {
		return nil
	}
	return new(decimal.RequireFromString(s))
}

// found makes people, catalogue, vans, customers, sites and assets.
func (g *generator) found(at time.Time) error {
	if err := g.equip(at); err != nil {
		return err
	}
	if err := g.paper(at); err != nil {
		return err
	}
	g.settings.Planning = planned(g.dateIn(-20))
	if err := g.w.Settle(at, g.settings); err != nil {
		return err
	}
	for _, o := range office {
		if err := g.record("person", o[0], at, records.Person{Name: o[1], Short: short(o[1]),
			Roles: []records.Role{records.Role(o[2])}}); err != nil {
			return err
		}
	}
	for _, id := range slices.Sorted(maps.Keys(things)) {
		if err := g.record("resource", id, at, things[id]); err != nil {
			return err
		}
	}
	for i, t := range templates {
		if err := g.record("template", fmt.Sprint("t", i+1), at, t); err != nil {
			return err
		}
	}
	if err := g.stock(at); err != nil {
		return err
	}
	for i, t := range technicians {
		van := "van-" + t[0]
		if err := g.record("place", van, at, stock.Place{Name: fmt.Sprintf("Van %d", i+1), Kind: "van", Person: t[0]}); err != nil {
			return err
		}
		if err := g.record("person", t[0], at, records.Person{Name: t[1], Short: short(t[1]), Roles: []records.Role{records.Technician},
			Phone: fmt.Sprintf("+353 1 555 02%02d", i), Van: van, Skills: skills[i%len(skills)], Home: g.homes[t[0]],
			Team: teams[i%len(teams)], Hours: hoursOf(t[0])}); err != nil {
			return err
		}
	}
	var err error
	if g.papers, err = papers(g.w.Tx, g.files, at); err != nil {
		return err
	}
	n := 0
	for k, f := range firms {
		phone := fmt.Sprintf("+353 1 555 1%03d", n)
		contact := records.Contact{Name: f.contact, Role: f.role, Phone: phone}
		if err := g.record("customer", f.number, at, records.Customer{Name: f.name,
			Address: fmt.Sprintf("%d Harbour Row, %s", 1+g.r.Intn(90), places[g.r.Intn(len(places))].name), Contact: contact}); err != nil {
			return err
		}
		for i := range f.sites {
			n++
			p := places[(i+3*k)%len(places)] // each place once for a firm, before any comes again
			s := site{id: fmt.Sprintf("S%03d", n), customer: f.number, contact: f.contact, phone: phone, name: p.name + " " + f.at,
				at: g.near(p.lat, p.lon)}
			if i >= len(places) || f.at == "Pump House" || f.at == "Well" {
				s.name = fmt.Sprintf("%s %s %d", p.name, f.at, 1+i%5)
			}
			body := records.Site{Customer: f.number, Name: s.name, Address: fmt.Sprintf("%d %s, %s", 1+g.r.Intn(60),
				pick(g.r, "Slip Lane", "Kiln Road", "Back Strand", "Mill Brae", "Causeway"), p.name),
				Lat: s.at.Lat, Lon: s.at.Lon, Contact: contact,
				Access: pick(g.r, "Key at the gatehouse, ask for the duty engineer.",
					fmt.Sprintf("Gate code %d. Close it behind you, there are sheep.", 1000+g.r.Intn(9000)),
					"Ring ten minutes ahead, somebody will open.", "Track floods at spring tide: go in before high water.")}
			if g.r.Intn(5) == 0 {
				body.Hazard = pick(g.r, "Confined space: two people below ground.", "Chlorine store: ventilate first.",
					"Deep water, wear a life jacket on the pontoon.")
			}
			if f.at == "School" {
				body.Open = []calendar.Week{weekdays("08:00", "17:00", 1, 2, 3, 4, 5)}
				body.Closed = []calendar.Off{{From: g.dateIn(18), To: g.dateIn(32), Why: "School holidays"}}
			}
			if err := g.record("site", s.id, at, body); err != nil {
				return err
			}
			for k, kind := range f.kinds[:1+g.r.Intn(len(f.kinds))] {
				m := machines[kind]
				a := asset{id: fmt.Sprintf("A%03d-%d", n, k+1), kind: kind, name: m.name}
				rec := records.Asset{Site: s.id, Name: m.name, Kind: kind, Maker: m.maker,
					Serial:    fmt.Sprintf("%s-%05d", m.maker[:2], g.r.Intn(99999)),
					Installed: fmt.Sprintf("%d-%02d-01", 2012+g.r.Intn(12), 1+g.r.Intn(12)), Documents: g.papers[kind]}
				rec.Charges = charges[kind]
				if err := g.record("asset", a.id, at, rec); err != nil {
					return err
				}
				s.assets = append(s.assets, a)
			}
			g.sites = append(g.sites, s)
		}
	}
	for _, t := range technicians {
		if err := g.load(t[0], at); err != nil {
			return err
		}
		if err := g.record("levels", "van-"+t[0], at, vanLevels()); err != nil {
			return err
		}
	}
	return nil
}

// load counts a van anew, as stores do when they fill it up.
func (g *generator) load(tech string, at time.Time) error {
	for i, p := range parts {
		n := int64(6 + g.r.Intn(24))
		if (i+len(tech))%9 == 0 {
			n = int64(1 + g.rare.Intn(3)) // nobody carries enough of everything
		}
		if _, err := g.w.Append("stock.counted", ledger.Ref{Type: "stock", ID: "van-" + tech}, "oriel", at,
			ledger.Count{Part: p.number, Quantity: decimal.NewFromInt(n)}, nil); err != nil {
			return err
		}
	}
	return nil
}

// pace is how quickly a day goes by, 1 as ever: soon after midnight the day is half done all the same, with shorter visits.
type pace float64

func (p pace) of(d time.Duration) time.Duration {
	if p >= 1 {
		return d
	}
	return time.Duration(float64(d) * float64(p))
}

// half is how long it takes until a day is half done, from its first quarter of an hour.
const half = 285 * time.Minute

// pace is that of the day d days from today.
func (g *generator) pace(d int) pace {
	early := g.now.Sub(g.settings.Company.Zone.Midnight(g.now))
	if d != 0 || early >= half {
		return 1
	}
	return pace(max(0.02, float64(early-2*time.Minute)/float64(half)))
}

// day makes the work of one day, d days from today.
func (g *generator) day(d int) error {
	noon := g.settings.Company.Zone.Midnight(g.now).AddDate(0, 0, d).Add(12 * time.Hour)
	midnight := g.settings.Company.Zone.Midnight(noon)
	weekend := g.local(noon).Weekday() == time.Saturday || g.local(noon).Weekday() == time.Sunday
	if weekend && d != 0 {
		return nil
	}
	pace := g.pace(d)
	begin := midnight.Add(7*time.Hour + 30*time.Minute)
	if d == 0 { // half done, whenever that is
		begin = g.now.Add(-270 * time.Minute).Truncate(15 * time.Minute)
		if least := midnight.Add(pace.of(15 * time.Minute)); begin.Before(least) {
			begin = least
		}
		if most := midnight.Add(14*time.Hour + 30*time.Minute); begin.After(most) {
			begin = most
		}
	}
	if d%28 == 0 && d < 0 {
		for _, t := range technicians {
			if err := g.load(t[0], g.local(midnight.Add(6*time.Hour))); err != nil {
				return err
			}
		}
	}
	for i, t := range technicians {
		n := 0
		switch {
		case d < -14:
			if g.r.Intn(7) == 0 {
				n = 1
			}
		case d <= 0:
			n = 3 + (i+d+40)%2
		case d <= 3:
			n = 2 + g.r.Intn(2)
		default:
			n = g.r.Intn(3)
		}
		if t[0] == helper && d >= -14 {
			n = 0
		}
		at := begin.Add(pace.of(time.Duration(g.r.Intn(4)) * 10 * time.Minute))
		from := g.base(t[0])
		for k := range n {
			minutes := 45 + 15*g.r.Intn(5)
			site, way := g.next(from)
			minutes, way = max(1, int(pace.of(time.Duration(minutes)))), pace.of(way)
			start := at.Add(way + pace.of(4*time.Minute)).Truncate(max(pace.of(5*time.Minute), time.Second))
			trip := trip{tech: t[0], site: site, start: start, drive: way, thought: thought(from, site.at), minutes: minutes, d: d, k: k, n: n,
				pace: pace}
			if k == 0 && d >= -14 && d <= 0 {
				if err := g.begin(t[0], start.Add(-way-pace.of(2*time.Minute))); err != nil {
					return err
				}
			}
			if err := g.visit(trip); err != nil {
				return err
			}
			from = site.at
			at = start.Add(time.Duration(minutes)*time.Minute + pace.of(time.Duration(5+g.r.Intn(15))*time.Minute))
		}
		if n > 0 && d >= -14 {
			if err := g.end(t[0], d); err != nil {
				return err
			}
		}
	}
	return nil
}

// trip is a visit to be: the k-th of n on the d-th day from today.
type trip struct {
	tech    string
	site    site
	start   time.Time
	drive   time.Duration
	thought *work.Drive // of the drive
	minutes int
	d, k, n int
	pace    pace
}

// visit makes a work order with its visit, and what has been done of it by now.
func (g *generator) visit(t trip) error {
	s, tech, start, minutes, d := t.site, t.tech, t.start, t.minutes, t.d
	a := s.assets[g.r.Intn(len(s.assets))]
	m := machines[a.kind]
	g.number++
	g.visits++
	problem, priority := "Quarterly service of the "+lower(m.name), work.Normal
	if g.r.Intn(3) > 0 {
		problem, priority = m.faults[g.r.Intn(len(m.faults))], work.Soon
		if g.r.Intn(6) == 0 {
			priority = work.Emergency
		}
	}
	opened := g.local(start.Add(-time.Duration(20+g.r.Intn(90)) * time.Hour))
	if opened.After(g.now) {
		opened = g.local(g.now.Add(-time.Duration(1+g.r.Intn(20)) * time.Hour))
	}
	order := ledger.Ref{Type: "workorder", ID: fmt.Sprintf("w%05d", g.number)}
	id := ledger.Ref{Type: "visit", ID: fmt.Sprintf("v%05d", g.visits)}
	o := work.Order{Number: fmt.Sprint(g.number), Customer: s.customer, Site: s.id, Asset: a.id, Problem: problem, Priority: priority,
		Minutes: minutes, Kind: "service", Skills: m.skills}
	if priority != work.Normal {
		o.Kind = "repair"
	}
	o.Sheets, o.Needs = g.attached(a, o.Kind), g.needs(m, d)
	for i, name := range m.tasks {
		if d >= -14 {
			o.Tasks = append(o.Tasks, work.Task{ID: fmt.Sprintf("t%d", i+1), Name: name, Minutes: minutes / len(m.tasks)})
		}
	}
	if priority != work.Normal {
		o.PromiseTo = g.local(start.Add(time.Duration(minutes) * time.Minute).Truncate(time.Hour).Add(time.Hour))
		o.PromiseFrom = o.PromiseTo.Add(-4 * time.Hour)
	}
	say := func(kind string, ref ledger.Ref, actor string, at time.Time, body any) (ledger.Entry, error) {
		w := g.w
		if actor == tech {
			w = g.phones[tech]
			// Most entries arrive at once; every fourth visit is done with no signal, and arrives when it is over.
			w.Now = g.local(at).Add(2 * time.Second)
			if over := start.Add(time.Duration(minutes+40) * time.Minute); g.visits%4 == 0 && over.After(at) && over.Before(g.now) {
				w.Now = g.local(over)
			}
		}
		return w.Append(kind, ref, actor, g.local(at), body, nil)
	}
	if _, err := say("work.opened", order, "mirin", opened, o); err != nil {
		return err
	}
	if _, err := say("visit.planned", id, "mirin", opened.Add(20*time.Minute),
		ledger.Plan{Order: order.ID, Technician: tech, Start: g.local(start), Minutes: minutes, Helpers: g.helpers(t)}); err != nil {
		return err
	}
	if d > 3 {
		return nil // planned, not sent yet
	}
	if _, err := say("visit.sent", id, "mirin", opened.Add(25*time.Minute), ledger.Nothing{}); err != nil {
		return err
	}
	if d > 0 && (d > 1 || t.k == t.n-1) || (d == 0 && t.k == t.n-1) {
		return nil // not answered yet
	}
	p := &performance{g: g, say: say, id: id, tech: tech, asset: a, machine: m, site: s, recent: d > -3, number: o.Number, order: order.ID,
		tasks: o.Tasks, helper: len(g.helpers(t)) > 0, twice: d == g.lastWorkday() && t.k == 0,
		forgets: tech == forgetful && d == g.lastWorkday() && t.k == t.n-1, fromHome: t.k == 0 && g.homes[tech] != nil && d >= -14,
		minutes: minutes, sheets: o.Sheets, asked: d >= -30, pace: t.pace, thought: t.thought}
	p.at = start.Add(-t.drive - 30*time.Minute)
	if p.at.After(g.now) {
		p.at = g.now.Add(-10 * time.Minute)
	}
	if err := p.step("accepted", ledger.Step{}); err != nil || d > 0 {
		return err
	}
	if err := p.perform(start, t.drive); err != nil || d > -2 || !p.done {
		return err
	}
	if err := g.seen(id, start); err != nil {
		return err
	}
	_, err := say("visit.reviewed", id, office[1][0], start.Add(time.Duration(18+g.r.Intn(6))*time.Hour), ledger.Nothing{})
	return err
}

// unplaced makes work that the office has yet to place.
func (g *generator) unplaced() error {
	for i := range 9 {
		s := g.sites[g.r.Intn(len(g.sites))]
		a := s.assets[0]
		m := machines[a.kind]
		g.number++
		o := work.Order{Number: fmt.Sprint(g.number), Customer: s.customer, Site: s.id, Asset: a.id, Problem: m.faults[i%len(m.faults)],
			Priority: work.Soon, Minutes: 60 + 30*g.r.Intn(3), Kind: "repair", Sheets: g.attached(a, "repair")}
		if i < 2 {
			o.Priority = work.Emergency
		} else if i > 5 {
			o.Priority = work.Normal
		}
		if i < 6 {
			o.PromiseTo = g.local(g.now.Add(time.Duration(2+5*i) * time.Hour).Truncate(30 * time.Minute))
			o.PromiseFrom = o.PromiseTo.Add(-2 * time.Hour)
		}
		o.Skills = m.skills
		for i, name := range m.tasks {
			o.Tasks = append(o.Tasks, work.Task{ID: fmt.Sprintf("t%d", i+1), Name: name})
		}
		ref := ledger.Ref{Type: "workorder", ID: fmt.Sprintf("w%05d", g.number)}
		if _, err := g.w.Append("work.opened", ref, "mirin", g.local(g.now.Add(-time.Duration(40+i*37)*time.Minute)), o, nil); err != nil {
			return err
		}
		if i == 4 {
			if err := g.offer(ref); err != nil {
				return err
			}
		}
	}
	return nil
}

func pick(r *rand.Rand, s ...string) string { return s[r.Intn(len(s))] }

func round(f float64, places int) float64 {
	p := math.Pow10(places)
	return math.Round(f*p) / p
}

func short(name string) string {
	for i := range name {
		if name[i] == ' ' {
			return name[:1] + ". " + name[i+1:]
		}
	}
	return name
}

func lower(s string) string {
	if s[:2] == "UV" {
		return s
	}
	return string(s[0]|0x20) + s[1:]
}
