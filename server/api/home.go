package api

import (
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/work"
	"iter.example/iter/server/parts"
	"iter.example/iter/server/store"
)

// WaitingGroup is work of a sort that waits for whoever asks.
type WaitingGroup struct {
	Name  WaitingFor    `json:"name"`
	Count int           `json:"count"`
	Least bool          `json:"least,omitempty"` // there may be more than that: no more were looked at
	Lines []WaitingLine `json:"lines"`           // the worst and oldest first, as many as fit on a screen
}

// WaitingFor is what something waits for.
type WaitingFor string

const (
	ToPlace    WaitingFor = "place"    // work without a visit
	LeftBehind WaitingFor = "left"     // visits of past days that are not over
	Overdue    WaitingFor = "overdue"  // work of maintenance plans that might be done by a day that is over
	ToAccept   WaitingFor = "offers"   // offers that nobody took yet
	ToAnswer   WaitingFor = "messages" // conversations with something unread
	ToDecide   WaitingFor = "decide"   // what is held or flagged
	ToReview   WaitingFor = "review"   // finished visits
	ToSign     WaitingFor = "unsigned" // work that nobody signed for
	ToSeeTo    WaitingFor = "attention"
	ToHear     WaitingFor = "signals"   // what machines report to be wrong
	ToGet      WaitingFor = "requests"  // parts that somebody asked for
	ToReceive  WaitingFor = "purchases" // what suppliers owe
	ToSortOut  WaitingFor = "handovers" // what went from place to place and is not all there
	ToGrant    WaitingFor = "absences"  // who asks to be off
)

const (
	// mostWaiting is how many lines of a group are told.
	mostWaiting = 6
	// mostLookedAt is up to how many conversations, or visits that nobody signed for, are counted.
	mostLookedAt = 200
)

// Values lists what is waited for, for generated types.
func (WaitingFor) Values() []string {
	return []string{string(ToPlace), string(LeftBehind), string(Overdue), string(ToAccept), string(ToAnswer), string(ToDecide),
		string(ToReview), string(ToSign), string(ToSeeTo), string(ToHear), string(ToGet), string(ToReceive), string(ToSortOut), string(ToGrant)}
}

// WaitingLine is one thing that waits.
type WaitingLine struct {
	Ref    ledger.Ref `json:"ref"` // what it is about
	Title  string     `json:"title"`
	Detail string     `json:"detail,omitempty"`
	Why    *msg.Code  `json:"why,omitempty"` // what is held or flagged, in the place of Detail
	At     time.Time  `json:"at,omitzero"`   // since when, or by when where Due
	Due    bool       `json:"due,omitempty"` // At is when it is promised
	Bad    bool       `json:"bad,omitempty"` // it can't wait
}

// home lists what waits for whoever asks, by their roles; what nothing waits for is left out.
func (s *Server) home(c *gin.Context) ([]WaitingGroup, error) {
	return read(s, c, func(tx *store.Tx) ([]WaitingGroup, error) {
		p, out := who(c).Person, []WaitingGroup{}
		store.ReadClock(c.Request.Context())
		w := waiting{tx, s.now(c), ""}
		var err error
		if _, w.today, err = tx.Company(w.now); err != nil {
			return nil, err
		}
		dispatch, review, stores := []records.Role{records.Dispatcher}, []records.Role{records.Reviewer}, []records.Role{records.Stores}
		both := slices.Concat(dispatch, review)
		for _, g := range []struct {
			roles []records.Role
			name  WaitingFor
			f     func() (int, []WaitingLine, error)
			// bounded tells that no more than mostLookedAt are looked at.
			bounded bool
		}{
			{dispatch, ToPlace, w.place, false}, {dispatch, LeftBehind, w.left, false}, {dispatch, Overdue, w.overdue, true},
			{dispatch, ToAccept, w.offers, false},
			{dispatch, ToGrant, w.absences, false},
			{review, ToReview, w.review, false}, {both, ToAnswer, w.messages, true}, {review, ToSign, w.unsigned, true},
			{review, ToSeeTo, w.attention, true}, {both, ToHear, w.signals, false},
			{both, ToDecide, w.decide, false}, {stores, ToGet, w.requests, false},
			{stores, ToReceive, w.purchases, false}, {stores, ToSortOut, w.handovers, false},
		} {
			if !p.Has(g.roles...) {
				continue
			}
			count, lines, err := g.f()
			if err != nil {
				return nil, err
			}
			if count > 0 {
				out = append(out, WaitingGroup{g.name, count, g.bounded && count >= mostLookedAt, lines[:min(len(lines), mostWaiting)]})
			}
		}
		return out, nil
	})
}

type waiting struct {
	tx    *store.Tx
	now   time.Time
	today string
}

func (w waiting) place() (int, []WaitingLine, error) {
	n, err := w.tx.CountUnplaced(w.today)
	if err != nil {
		return 0, nil, err
	}
	ids, err := w.tx.Unplaced(w.today, mostWaiting)
	return lines(ids, n, err, func(id string) (WaitingLine, error) {
		x, err := w.tx.Work(id)
		o := x.Order
		l := WaitingLine{Ref: ledger.Ref{Type: "workorder", ID: id}, Title: strings.TrimSpace(o.Number + " " + o.Problem), Detail: x.Site.Name,
			At: o.OpenedAt, Bad: o.Priority == work.Emergency}
		if by := o.Promised(); !by.IsZero() {
			late := by.Before(w.now) || !o.DoneBy.IsZero() && o.DoneBy.Before(w.now)
			l.At, l.Due, l.Bad = by, true, l.Bad || late
		}
		return l, err
	})
}

// signals are what machines report to be wrong, for somebody to look at.
func (w waiting) signals() (int, []WaitingLine, error) {
	ids, n, err := w.tx.WaitingIncidents(mostWaiting)
	return lines(ids, n, err, func(id string) (WaitingLine, error) {
		var i ledger.Incident
		var a records.Asset
		var site records.Site
		if _, err := w.tx.Load("incident", id, &i); err != nil {
			return WaitingLine{}, err
		}
		if _, err := w.tx.Load("asset", i.Asset, &a); err != nil {
			return WaitingLine{}, err
		}
		_, err := w.tx.Load("site", a.Site, &site)
		return WaitingLine{Ref: ledger.Ref{Type: "asset", ID: i.Asset}, Title: i.Rule.Text, Detail: a.Name + ", " + site.Name, At: i.Since,
			Bad: i.Ended.IsZero()}, err
	})
}

// lines makes a line of each id.
func lines(ids []string, count int, err error, line func(id string) (WaitingLine, error)) (int, []WaitingLine, error) {
	var out []WaitingLine
	for _, id := range ids {
		if err != nil || len(out) == mostWaiting {
			break
		}
		var l WaitingLine
		l, err = line(id)
		out = append(out, l)
	}
	return count, out, err
}

// visit is a line about a visit, by a moment of it.
func (w waiting) visit(id string, at func(work.Visit) time.Time) (WaitingLine, error) {
	v, err := w.tx.VisitWork(id)
	if err != nil {
		return WaitingLine{}, err
	}
	name := ""
	if v.Visit.Technician != "" {
		name, err = w.tx.NameOf(v.Visit.Technician)
	}
	return WaitingLine{Ref: ledger.Ref{Type: "visit", ID: id}, Title: v.Site.Name, Detail: joinedBy(name, v.Order.Problem),
		At: at(v.Visit)}, err
}

func joinedBy(words ...string) string {
	var out []string
	for _, p := range words {
		if p != "" {
			out = append(out, p)
		}
	}
	return strings.Join(out, " · ")
}

func (w waiting) left() (int, []WaitingLine, error) {
	ids, err := w.tx.VisitsLeft(w.today)
	return lines(ids, len(ids), err, func(id string) (WaitingLine, error) {
		l, err := w.visit(id, func(v work.Visit) time.Time { return v.Start })
		l.Bad = true
		return l, err
	})
}

func (w waiting) overdue() (int, []WaitingLine, error) {
	ids, err := w.tx.OrdersOverdue(w.today, mostLookedAt)
	return lines(ids, len(ids), err, func(id string) (WaitingLine, error) {
		x, err := w.tx.Work(id)
		if err != nil {
			return WaitingLine{}, err
		}
		firm, _, err := w.tx.Company(w.now)
		_, by, _ := x.Order.Window()
		return WaitingLine{Ref: ledger.Ref{Type: "workorder", ID: id}, Title: strings.TrimSpace(x.Order.Number + " " + x.Order.Problem),
			Detail: x.Site.Name, At: firm.Zone.On(by, 24*time.Hour), Due: true, Bad: true}, err
	})
}

func (w waiting) offers() (int, []WaitingLine, error) {
	ids, err := w.tx.OffersOpen()
	return lines(ids, len(ids), err, func(id string) (WaitingLine, error) {
		return w.visit(id, func(v work.Visit) time.Time { return v.Start })
	})
}

func (w waiting) review() (int, []WaitingLine, error) {
	q := store.ListQuery{Sort: "ended", Where: []store.Filter{{Column: "stage", In: []string{string(work.Finished)}},
		{Column: "reviewed", In: []string{"0"}}}}
	page, err := w.tx.ListPage("visits", q)
	if err != nil {
		return 0, nil, err
	}
	ids := make([]string, len(page.Lines))
	for i, l := range page.Lines {
		ids[i] = l.ID
	}
	return lines(ids, page.Total, nil, func(id string) (WaitingLine, error) { return w.visit(id, work.Visit.Ended) })
}

func (w waiting) unsigned() (int, []WaitingLine, error) {
	ids, err := w.tx.Unsigned(mostLookedAt)
	return lines(ids, len(ids), err, func(id string) (WaitingLine, error) { return w.visit(id, work.Visit.Ended) })
}

func (w waiting) messages() (int, []WaitingLine, error) {
	ids, err := w.tx.Talks(mostLookedAt)
	if err != nil {
		return 0, nil, err
	}
	var unread []string
	said := map[string]talk.Said{}
	for _, id := range ids {
		var t talk.Talk
		if _, err := w.tx.Load("talk", id, &t); err != nil {
			return 0, nil, err
		}
		if t.Unread(talk.Office) > 0 {
			unread, said[id] = append(unread, id), t.Said[len(t.Said)-1]
		}
	}
	return lines(unread, len(unread), nil, func(id string) (WaitingLine, error) {
		about, err := w.tx.About(ledger.Ref{Type: "workorder", ID: id})
		return WaitingLine{Ref: ledger.Ref{Type: "talk", ID: id}, Title: said[id].Text, Detail: about, At: said[id].At}, err
	})
}

func (w waiting) decide() (int, []WaitingLine, error) {
	held, err := w.tx.Held()
	if err != nil {
		return 0, nil, err
	}
	flags, err := w.tx.OpenFlags()
	if err != nil {
		return 0, nil, err
	}
	out := []WaitingLine{}
	add := func(about ledger.Ref, person string, at time.Time, why msg.Code, held bool) error {
		title, err := w.tx.About(about)
		if err == nil && title == "" {
			title, err = w.tx.NameOf(person)
		}
		out = append(out, WaitingLine{Ref: ledger.Ref{Type: "flag", ID: about.ID}, Title: title, Why: &why, At: at, Bad: held})
		return err
	}
	for _, h := range held[:min(len(held), mostWaiting)] {
		if err := add(h.Entry.Subject, h.Person, h.Entry.At, h.Why, true); err != nil {
			return 0, nil, err
		}
	}
	slices.SortStableFunc(flags, func(a, b ledger.Notice) int { return a.At.Compare(b.At) })
	for _, f := range flags[:min(len(flags), mostWaiting)] {
		if err := add(f.Subject, f.Person, f.At, f.Code, false); err != nil {
			return 0, nil, err
		}
	}
	return len(held) + len(flags), out, nil
}

func (w waiting) attention() (int, []WaitingLine, error) {
	all, err := w.tx.Attention(false, mostLookedAt)
	ids := make([]string, len(all))
	for i, a := range all {
		ids[i] = a.Visit
	}
	return lines(ids, len(all), err, func(id string) (WaitingLine, error) { return w.visit(id, work.Visit.Ended) })
}

func (w waiting) requests() (int, []WaitingLine, error) {
	ids, err := w.tx.RequestsOpen()
	return lines(ids, len(ids), err, func(id string) (WaitingLine, error) {
		var r stock.Request
		if _, err := w.tx.Load("request", id, &r); err != nil {
			return WaitingLine{}, err
		}
		name, err := w.tx.NameOf(r.Person)
		title := r.Text
		if r.Part != "" {
			var p stock.Part
			if _, err := w.tx.Load("part", r.Part, &p); err != nil {
				return WaitingLine{}, err
			}
			title = p.Name
		}
		return WaitingLine{Ref: ledger.Ref{Type: "request", ID: id}, Title: title, Detail: name, At: r.At}, err
	})
}

func (w waiting) purchases() (int, []WaitingLine, error) {
	ids, err := w.tx.PurchasesOpen()
	return lines(ids, len(ids), err, func(id string) (WaitingLine, error) {
		var p stock.Purchase
		if _, err := w.tx.Load("purchase", id, &p); err != nil {
			return WaitingLine{}, err
		}
		return WaitingLine{Ref: ledger.Ref{Type: "purchase", ID: id}, Title: joinedBy(p.Number, p.Supplier), At: p.At,
			Bad: p.Due != "" && p.Due < w.today}, nil
	})
}

func (w waiting) handovers() (int, []WaitingLine, error) {
	all, err := parts.Handovers(w.tx)
	if err != nil {
		return 0, nil, err
	}
	out := []WaitingLine{}
	for _, h := range all {
		if len(h.Missing) == 0 {
			continue
		}
		out = append(out, WaitingLine{Ref: ledger.Ref{Type: "handover", ID: h.ID}, Title: joinedBy(h.FromName, h.ToName), At: h.Handover.At})
	}
	return len(out), out, nil
}
