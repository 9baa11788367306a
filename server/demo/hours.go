package demo

import (
	"context"
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/hours"
	"iter.example/iter/server/standin"
	"iter.example/iter/server/store"
)

// The people whose last working day has something for the office to look at, and who helps.
const (
	forgetful = "dilys"  // forgot to finish, and the office closed the visit
	corrector = "cathal" // corrected the day
	runsOn    = "hesper" // forgot to stop an indirect clock
	helper    = "lowen"  // goes along with others
	leader    = "ansa"
)

// Pin opens the shared terminal for everybody in the demo, with the number on the badge.
const Pin = "2580"

// card records something about somebody's own day.
func (g *generator) card(tech, kind string, at time.Time, body any) error {
	at = g.local(at)
	_, err := g.by(tech, at.Add(2*time.Second)).Append(kind, ledger.TimecardRef(tech, at), tech, at, body, nil)
	return err
}

// lastWorkday is how many days ago, counted back from today as a negative number, somebody last worked.
func (g *generator) lastWorkday() int {
	for d := -1; ; d-- {
		if w := g.local(g.now).AddDate(0, 0, d).Weekday(); w != time.Saturday && w != time.Sunday {
			return d
		}
	}
}

// begin starts somebody's day, and end ends it after some time at the yard.
func (g *generator) begin(tech string, at time.Time) error {
	if at.After(g.now) {
		return nil
	}
	return g.card(tech, "day.started", at, ledger.DayBegun{Home: g.homes[tech] != nil})
}

func (g *generator) end(tech string, d int) error {
	at := g.free[tech].Add(4 * time.Minute)
	if d >= 0 || at.After(g.now) {
		return nil
	}
	if tech == forgetful && d == g.lastWorkday() {
		return nil
	}
	if err := g.card(tech, "time.started", at, ledger.Clocked{Code: pick(g.r, "yard", "workshop")}); err != nil {
		return err
	}
	if tech == runsOn && d == g.lastWorkday() {
		return nil
	}
	at = at.Add(time.Duration(15+g.r.Intn(30)) * time.Minute)
	return g.card(tech, "day.ended", at, ledger.Nothing{})
}

// closeForgotten closes the visit that somebody forgot to finish.
func (g *generator) closeForgotten(id ledger.Ref, planned time.Time) error {
	var v work.Visit
	if _, err := g.w.Tx.Load("visit", id.ID, &v); err != nil {
		return err
	}
	at := g.local(planned.Add(3 * time.Hour).Truncate(time.Minute))
	if at.After(g.now) {
		at = g.local(g.now.Add(-time.Hour))
	}
	end, people := v.Closing(at)
	_, err := g.w.Append("visit.closed", id, office[1][0], at, ledger.Closed{Outcome: work.Complete, End: end, People: people,
		Reason: "Reported by telephone"}, nil)
	return err
}

// correct has somebody say that the first quarter of an hour of a visit was waiting.
func (g *generator) correct() error {
	date := g.local(g.now).AddDate(0, 0, g.lastWorkday())
	ref := ledger.TimecardRef(corrector, date)
	var c labor.Timecard
	if _, err := g.w.Tx.Load("timecard", ref.ID, &c); err != nil {
		return err
	}
	for _, s := range labor.Spans(g.now, c) {
		if s.Kind != labor.Work || s.Seconds() < 1800 {
			continue
		}
		piece := labor.Piece{What: labor.What{Kind: labor.Wait, Visit: s.Visit, Code: "customer"}, Start: s.Start,
			End: s.Start.Add(15 * time.Minute)}
		at := g.local(s.End.Add(40 * time.Minute))
		_, err := g.by(corrector, at).Append("time.corrected", ref, corrector, at,
			ledger.Corrected{Pieces: []labor.Piece{piece}, Reason: "Stood at the gate until the key came"}, nil)
		return err
	}
	return nil
}

// approve has the office approve the days before the last.
func (g *generator) approve() error {
	for d := -14; d < g.lastWorkday(); d++ {
		date := g.local(g.now).AddDate(0, 0, d)
		for _, t := range technicians {
			ref := ledger.TimecardRef(t[0], date)
			var c labor.Timecard
			if ok, err := g.w.Tx.Load("timecard", ref.ID, &c); err != nil {
				return err
			} else if !ok {
				continue
			}
			at := g.settings.Company.Zone.Midnight(date.AddDate(0, 0, 1)).Add(9 * time.Hour)
			if _, err := g.w.Append("day.approved", ref, office[1][0], at, ledger.Nothing{}, nil); err != nil {
				return err
			}
		}
	}
	return nil
}

// post books the approved days of the week before last.
func (g *generator) post(ctx context.Context, s *store.Store) error {
	day := func(d int) string { return g.local(g.now).AddDate(0, 0, d).Format(time.DateOnly) }
	books := standin.SimulatedAccounting{Store: s, Now: func() time.Time { return g.now }}
	_, err := hours.Post(ctx, s, books, hours.Range{From: day(-14), To: day(-7)}, office[1][0], g.now)
	return err
}

// identify gives everybody a badge and a PIN for the shared terminal.
func (g *generator) identify() error {
	badges, err := accounts.Issue(g.w.Tx)
	if err != nil {
		return err
	}
	var people []string
	for _, b := range badges {
		people = append(people, b.Person)
	}
	return accounts.SetPin(g.w.Tx, Pin, people...)
}

// tell sends the customer word that somebody is on the way, as it was sent then.
func (p *performance) tell(expected time.Time) error {
	t := p.g.settings.Messages.Templates[0]
	text := t.Fill(map[string]string{"contact": p.site.contact, "company": p.g.settings.Company.Name, "technician": nameOf(p.tech),
		"time": p.g.local(expected).Format("15:04"), "site": p.site.name, "number": p.number, "phone": p.g.settings.Company.Phone})
	e, err := p.say("message.sent", p.id, p.tech, p.at, ledger.MessageSent{Template: t.ID, To: p.site.phone, Text: text,
		Expected: p.g.local(expected)})
	if err != nil {
		return err
	}
	if err := p.g.w.Tx.KeepSent(store.Sent{Entry: e.ID, About: p.id, To: p.site.phone, Text: text, At: p.at}); err != nil {
		return err
	}
	return p.g.w.Tx.SettleMessage(e.ID, "sent", p.at)
}

func nameOf(tech string) string {
	for _, t := range technicians {
		if t[0] == tech {
			return t[1]
		}
	}
	return tech
}

// offer asks three people for a visit that the office has nobody for.
func (g *generator) offer(order ledger.Ref) error {
	id := ledger.Ref{Type: "visit", ID: "v-offer"}
	start := g.local(g.settings.Company.Zone.Midnight(g.now).AddDate(0, 0, 1).Add(13 * time.Hour)) // tomorrow, at whatever hour it is made
	at := g.local(g.now.Add(-20 * time.Minute))
	if _, err := g.w.Append("visit.planned", id, office[0][0], at, ledger.Plan{Order: order.ID,
		Offer: []string{leader, forgetful, "fenna"}, Start: start, Minutes: 90}, nil); err != nil {
		return err
	}
	_, err := g.w.Append("visit.sent", id, office[0][0], at.Add(time.Second), ledger.Nothing{}, nil)
	return err
}

// homes are where days begin for those who do not begin at the yard.
func (g *generator) settle() {
	g.settings.Road.Yard = new(g.near(places[1].lat, places[1].lon))
	g.homes = map[string]*records.Point{}
	for i, t := range technicians {
		if i%2 == 0 {
			p := places[(i*3+2)%len(places)]
			g.homes[t[0]] = new(g.near(p.lat, p.lon))
		}
	}
}

// base is where somebody's day begins.
func (g *generator) base(tech string) records.Point {
	if h := g.homes[tech]; h != nil {
		return *h
	}
	return *g.settings.Road.Yard
}
