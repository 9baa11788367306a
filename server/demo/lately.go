package demo

import (
	"encoding/json"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/company"
	"iter.example/iter/server/store"
)

// lately makes what somebody must look at today: a note on a visit that was given to somebody else meanwhile, a site that two
// people changed, and devices that have been away.
func (g *generator) lately() error {
	today := g.local(g.now).Format(time.DateOnly)
	ids, err := g.w.Tx.VisitsOn(today)
	if err != nil {
		return err
	}
	moved := false
	for _, id := range ids {
		var v work.Visit
		if _, err := g.w.Tx.Load("visit", id, &v); err != nil {
			return err
		}
		if moved || v.Begun() || v.Technician == technicians[0][0] {
			continue
		}
		moved = true
		ref := ledger.Ref{Type: "visit", ID: id}
		before := v.Technician
		other := technicians[4][0]
		if before == other {
			other = technicians[5][0]
		}
		at := g.local(g.now.Add(-50 * time.Minute))
		if _, err := g.w.Append("visit.moved", ref, office[0][0], at, ledger.Move{Technician: other, Start: v.Start, Minutes: v.Minutes},
			nil); err != nil {
			return err
		}
		if _, err := g.by(before, g.now).Append("note.written", ref, before, at.Add(-5*time.Minute),
			ledger.Note{Text: "Was passing: the gate is locked, the spare key is with the harbour master."}, nil); err != nil {
			return err
		}
	}
	site := ledger.Ref{Type: "site", ID: g.sites[0].id}
	var s records.Site
	if _, err := g.w.Tx.Load(site.Type, site.ID, &s); err != nil {
		return err
	}
	base, err := json.Marshal(map[string]string{"access": s.Access})
	if err != nil {
		return err
	}
	at := g.local(g.now.Add(-3 * time.Hour))
	if _, err := g.w.Append("record.amended", site, office[0][0], at, map[string]string{"access": "New gate code 4417 since Monday."},
		base); err != nil {
		return err
	}
	tech := technicians[3][0]
	if _, err := g.by(tech, g.now.Add(-time.Hour)).Append("record.amended", site, tech, at.Add(20*time.Minute),
		map[string]string{"access": "Gate is off its hinge: go in by the slipway."}, base); err != nil {
		return err
	}
	if err := g.looked(); err != nil {
		return err
	}
	return g.away()
}

func (g *generator) by(tech string, arrived time.Time) *company.Writer {
	w := g.phones[tech]
	w.Now = g.local(arrived)
	return w
}

// looked has technicians look at what was sent to them, but for the last, and those whose phones are out of reach.
func (g *generator) looked() error {
	from, to := g.dateIn(0), g.dateIn(7)
	for i, t := range technicians {
		if i == 6 {
			continue
		}
		plan, err := g.w.Tx.PlanOf(t[0], from, to)
		if err != nil {
			return err
		}
		for _, c := range plan[:max(0, len(plan)-1)] {
			if err := g.w.Tx.SawVisit(t[0], work.Known{Visit: c.ID, Start: c.Start}, g.now.Add(-time.Duration(20+i)*time.Minute)); err != nil {
				return err
			}
		}
	}
	return nil
}

// away gives the phones different last contacts: most just now, one on an island since morning, one with a wrong clock.
func (g *generator) away() error {
	for i, t := range technicians {
		d := store.Device{Replica: "phone-" + t[0], Person: t[0], Contact: g.now.Add(-time.Duration(i*7) * time.Second),
			Agent: "Chrome, Android", Version: "0.3.0"}
		switch i {
		case 6:
			d.Contact, d.Unsent = g.now.Add(-4*time.Hour), 3
		case 8:
			d.Skew = 7 * time.Minute
		case 10:
			d.Agent, d.Version = "Safari, iPad", "0.2.0"
		}
		if err := g.w.Tx.PutDevice(d); err != nil {
			return err
		}
	}
	return nil
}
