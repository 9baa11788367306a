// Package notify tells technicians what changed in their plan and they have not looked at yet: by push, which reaches a phone whose app is
// closed, else by text or mail where the company wants that. Each is told once of all that changed within some time.
package notify

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"strings"
	"sync"
	"time"

	"github.com/oklog/ulid/v2"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/standin"
	"iter.example/iter/server/store"
)

// Config is what a teller works with.
type Config struct {
	Store   *store.Store
	Push    Pusher
	Gateway standin.Gateway
	// Paper prints what goes with a notification, by its name.
	Paper func(ctx context.Context, person, paper string) ([]byte, error)
	Now   func() time.Time
	Log   *slog.Logger
	// Quiet is for how long nothing must change before somebody is told, so that they are told of several changes at once.
	Quiet time.Duration
}

// Teller tells technicians what is new. Its methods may be called at the same time.
type Teller struct {
	Config
	mu     sync.Mutex
	visits map[string]bool // that changed since Round looked last
	people map[string]wait // who may have to be told
	fresh  chan struct{}
}

// wait is since when something has changed for somebody, and when it last did.
type wait struct{ first, last time.Time }

// longest is for how many times Quiet somebody is not told while more keeps changing.
const longest = 5

// days is how far ahead somebody is told of their plan: as far as devices hold it.
const days = 14

// giveUp is how long a push service is tried that does not answer.
const giveUp = time.Hour

// New makes a teller. Whoever has not been told of something when the program ended last is told when it begins again.
func New(c Config) *Teller {
	return &Teller{Config: c, visits: map[string]bool{}, people: map[string]wait{}, fresh: make(chan struct{}, 1)}
}

// Heard is told what was written.
func (t *Teller) Heard(c store.Changed) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for _, r := range c.Docs {
		if r.Type == "visit" {
			t.visits[r.ID] = true
		}
	}
	if len(t.visits) > 0 {
		t.Wake()
	}
}

// Wake has what waits to be sent looked at.
func (t *Teller) Wake() {
	select {
	case t.fresh <- struct{}{}:
	default: // it looks anyway
	}
}

// Run tells until the context ends. What could not be sent is tried again every half minute.
func (t *Teller) Run(ctx context.Context) {
	if err := t.everybody(ctx); err != nil && ctx.Err() == nil {
		t.Log.Warn("technicians are not told of what changed before the start", "error", err)
	}
	for {
		next, err := t.Round(ctx)
		if err != nil && ctx.Err() == nil {
			t.Log.Warn("notifications to technicians wait", "error", err, "hint", "they are tried again in half a minute")
		}
		timer := time.NewTimer(min(next, 30*time.Second))
		select {
		case <-ctx.Done():
			timer.Stop()
			return
		case <-t.fresh:
		case <-timer.C:
		}
		timer.Stop()
	}
}

// everybody has all who work in the field looked at, and forgets what is long over.
func (t *Teller) everybody(ctx context.Context) error {
	var people []ledger.Doc
	var over bool
	now := t.Now()
	before := now.AddDate(0, 0, -days)
	err := t.Store.Read(ctx, func(tx *store.Tx) (err error) {
		if people, err = tx.Of("person"); err == nil {
			over, err = tx.AnyKnownBefore(before)
		}
		return err
	})
	if err != nil {
		return err
	}
	t.mu.Lock()
	for _, d := range people {
		t.people[d.ID] = wait{now, now}
	}
	t.mu.Unlock()
	if !over {
		return nil
	}
	return t.Store.Write(ctx, func(tx *store.Tx) error { return tx.ForgetKnownBefore(before) })
}

// Round notes whom what changed concerns, tells those for whom it is time, and gives how long it is until it is for the next.
func (t *Teller) Round(ctx context.Context) (time.Duration, error) {
	now := t.Now()
	if err := t.concern(ctx, now); err != nil {
		return t.Quiet, err
	}
	next := time.Hour
	var due []string
	t.mu.Lock()
	for person, w := range t.people {
		at := w.last.Add(t.Quiet)
		if last := w.first.Add(longest * t.Quiet); last.Before(at) {
			at = last
		}
		if left := at.Sub(now); left > 0 {
			next = min(next, left)
			continue
		}
		due = append(due, person)
		delete(t.people, person)
	}
	t.mu.Unlock()
	for i, person := range due {
		if err := t.tell(ctx, person, now); err != nil {
			t.mu.Lock()
			for _, p := range due[i:] {
				t.people[p] = wait{now, now}
			}
			t.mu.Unlock()
			return t.Quiet, err
		}
	}
	return next, t.send(ctx)
}

// concern notes whom visits that changed are of, or were.
func (t *Teller) concern(ctx context.Context, now time.Time) error {
	t.mu.Lock()
	visits := t.visits
	t.visits = map[string]bool{}
	t.mu.Unlock()
	if len(visits) == 0 {
		return nil
	}
	var people []string
	err := t.Store.Read(ctx, func(tx *store.Tx) error {
		for id := range visits {
			of, err := tx.Concerned([]ledger.Ref{{Type: "visit", ID: id}})
			if err != nil {
				return err
			}
			for p := range of {
				people = append(people, p)
			}
			knowing, err := tx.Knowing(id)
			if err != nil {
				return err
			}
			people = append(people, knowing...)
		}
		return nil
	})
	t.mu.Lock()
	defer t.mu.Unlock()
	if err != nil {
		for id := range visits {
			t.visits[id] = true
		}
		return err
	}
	for _, p := range people {
		if w, ok := t.people[p]; ok {
			t.people[p] = wait{w.first, now}
		} else {
			t.people[p] = wait{now, now}
		}
	}
	return nil
}

// tell makes the notification of what somebody does not know of their plan, if there is anything and a way to tell them.
func (t *Teller) tell(ctx context.Context, person string, now time.Time) error {
	var any bool
	look := func(tx *store.Tx) (n store.Notification, news work.News, err error) {
		n, news, err = t.compose(tx, person, now)
		any = n.Way != ""
		return n, news, err
	}
	err := t.Store.Read(ctx, func(tx *store.Tx) error { _, _, err := look(tx); return err })
	if err != nil || !any {
		return err
	}
	return t.Store.Write(ctx, func(tx *store.Tx) error {
		n, news, err := look(tx) // something may have changed
		if err != nil || !any {
			return err
		}
		n.ID = ulid.Make().String()
		if err := tx.PutNotification(n); err != nil {
			return err
		}
		if err := tx.ForgetVisits(person, news.Gone); err != nil {
			return err
		}
		return tx.ToldVisits(person, append(news.New, news.Moved...), n.ID)
	})
}

// compose puts what somebody does not know of their plan into words. Without anything, or a way to tell them, Way is "".
func (t *Teller) compose(tx *store.Tx, person string, now time.Time) (n store.Notification, news work.News, err error) {
	var p records.Person
	if _, err := tx.Load("person", person, &p); err != nil || !p.Has(records.Technician) {
		return n, news, err
	}
	rules, err := tx.Settings(now)
	if err != nil {
		return n, news, err
	}
	way, err := wayTo(tx, person, p, rules.Visits.Elsewhere)
	if err != nil || way == "" {
		return n, news, err
	}
	today := rules.Company.Zone.In(now)
	plan, answered, err := planOf(tx, person, p, today)
	if err != nil {
		return n, news, err
	}
	all, err := tx.KnownVisits(person)
	if err != nil {
		return n, news, err
	}
	var known []work.Known
	for _, k := range all {
		known = append(known, k.Known)
		delete(answered, k.Visit)
	}
	for _, k := range answered {
		known = append(known, k)
	}
	y, m, d := today.Date()
	if news = work.NewsOf(plan, known, time.Date(y, m, d, 0, 0, 0, 0, today.Location())); news.Empty() {
		return n, news, nil
	}
	if n, err = write(tx, news, rules.Company, now); err != nil {
		return n, news, err
	}
	n.Person, n.Way, n.Made, n.State = person, way, now, "waiting"
	return n, news, nil
}

// Begin takes what somebody sees of their plan now as known: who asks to be notified has the app open.
func Begin(tx *store.Tx, person string, p records.Person, today time.Time) error {
	plan, _, err := planOf(tx, person, p, today)
	if err != nil {
		return err
	}
	return tx.ToldVisits(person, plan, "")
}

// planOf lists what somebody sees of their plan, and by id those visits of it that they have answered or begun, and so know. today is
// a moment by the company's clock.
func planOf(tx *store.Tx, person string, p records.Person, today time.Time) (plan []work.Known, answered map[string]work.Known, err error) {
	coming, err := tx.PlanOf(person, today.Format(time.DateOnly), today.AddDate(0, 0, days).Format(time.DateOnly))
	if err != nil {
		return nil, nil, err
	}
	seen, err := tx.SeenAhead(p, coming, today)
	if err != nil {
		return nil, nil, err
	}
	answered = map[string]work.Known{}
	for _, c := range coming {
		var v work.Visit
		if _, err := tx.Load("visit", c.ID, &v); err != nil {
			return nil, nil, err
		}
		if !seen[c.ID] || !v.Expects(person) {
			continue
		}
		k := work.Known{Visit: c.ID, Start: c.Start}
		plan = append(plan, k)
		if v.Technician == person && v.Stage != work.Sent {
			answered[c.ID] = k
		}
	}
	return plan, answered, nil
}

// wayTo tells how somebody is told: "" when there is no way.
func wayTo(tx *store.Tx, person string, p records.Person, rule work.Elsewhere) (string, error) {
	addresses, err := tx.PushAddresses(person)
	if len(addresses) > 0 {
		return "push", err
	}
	return elsewhere(p, rule), err
}

// elsewhere is how somebody is told whom no push reaches, where that is known: "" when there is no way.
func elsewhere(p records.Person, rule work.Elsewhere) string {
	if rule == work.TellText && p.Phone != "" || rule == work.TellMail && p.Email != "" {
		return string(rule)
	}
	return ""
}

// mostLines is how many visits a notification names.
const mostLines = 4

// write puts news into words.
func write(tx *store.Tx, news work.News, company records.Company, now time.Time) (n store.Notification, err error) {
	var title, lines []string
	var orders, sent []string
	for _, part := range []struct {
		list       []work.Known
		many, mark string
	}{{news.New, "new", ""}, {news.Moved, "moved", "Moved: "}, {news.Gone, "taken away", "Taken away: "}} {
		if len(part.list) > 0 {
			title = append(title, fmt.Sprint(len(part.list), " ", part.many))
		}
		for _, k := range part.list {
			w, err := tx.VisitWork(k.Visit)
			if err != nil {
				return n, err
			}
			lines = append(lines, part.mark+Line(k.Start, w.Work, company.Zone, now))
			if part.mark != "Taken away: " {
				orders, sent = append(orders, w.Visit.Order), append(sent, k.Visit)
			}
		}
	}
	if more := len(lines) - mostLines; more > 0 {
		lines = append(lines[:mostLines], fmt.Sprintf("and %d more", more))
	}
	n.Title, n.Text = "Your plan: "+strings.Join(title, ", "), strings.Join(lines, "\n")
	switch {
	case len(sent) == 1:
		n.Visit, n.Paper = sent[0], "order/"+orders[0]
	case len(sent) > 1:
		first := append(news.New, news.Moved...)[0]
		n.Paper = "day/" + company.Zone.In(first.Start).Format(time.DateOnly)
	}
	return n, nil
}

// Line says in a line when and where a visit is, and what for.
func Line(start time.Time, w store.Work, zone labor.Zone, now time.Time) string {
	start, now = zone.In(start), zone.In(now)
	day := start.Format("Mon 2 Jan ")
	switch start.Format(time.DateOnly) {
	case now.Format(time.DateOnly):
		day = ""
	case now.AddDate(0, 0, 1).Format(time.DateOnly):
		day = "tomorrow "
	}
	where := w.Site.Name
	if w.Site.Address != "" {
		where += ", " + w.Site.Address
	}
	return shortened(fmt.Sprintf("%s%s %s (%s): %s", day, start.Format("15:04"), where, w.Order.Number, w.Order.Problem))
}

// mostLetters is how long a line is at most: a push has room for 3,000 bytes or so.
const mostLetters = 160

func shortened(s string) string {
	s = strings.Join(strings.Fields(s), " ")
	if r := []rune(s); len(r) > mostLetters {
		return string(r[:mostLetters-1]) + "…"
	}
	return s
}

// Message is what a service worker is given by push.
type Message struct {
	Title string `json:"title"`
	Text  string `json:"text"`
	Visit string `json:"visit,omitempty"` // that it opens
}

// send sends what waits.
func (t *Teller) send(ctx context.Context) error {
	var waiting []store.Notification
	err := t.Store.Read(ctx, func(tx *store.Tx) (err error) {
		waiting, err = tx.NotificationsWaiting()
		return err
	})
	for _, n := range waiting {
		err = errors.Join(err, t.sendOne(ctx, n))
	}
	return err
}

// sendOne sends a notification by its way, or by the company's other one when no browser is reached.
func (t *Teller) sendOne(ctx context.Context, n store.Notification) error {
	var p records.Person
	var rules ledger.Settings
	err := t.Store.Read(ctx, func(tx *store.Tx) (err error) {
		if _, err = tx.Load("person", n.Person, &p); err == nil {
			rules, err = tx.Settings(t.Now())
		}
		return err
	})
	if err != nil {
		return err
	}
	if t.Now().Sub(n.Made) > lasts {
		return t.settle(ctx, n, "failed") // it is no news any more, and the board says that it reached nobody
	}
	if n.Way == "push" {
		sent, err := t.push(ctx, n)
		if err != nil {
			return err
		}
		instead := elsewhere(p, rules.Visits.Elsewhere)
		switch {
		case sent:
			return t.settle(ctx, n, "sent")
		case instead == "":
			return t.settle(ctx, n, "failed")
		}
		n.Way = instead
	}
	m := standin.Message{Entry: n.ID, About: ledger.Ref{Type: "person", ID: n.Person}, To: p.Phone, Text: n.Title + "\n" + n.Text, At: t.Now()}
	if n.Way == string(work.TellMail) {
		m.To = p.Email
		if n.Paper != "" {
			if m.Paper, err = t.Paper(ctx, n.Person, n.Paper); err != nil {
				return err
			}
		}
	}
	if err := t.Gateway.Send(ctx, m); err != nil {
		return err // it waits, and is tried again
	}
	return t.settle(ctx, n, "sent")
}

func (t *Teller) settle(ctx context.Context, n store.Notification, state string) error {
	return t.Store.Write(ctx, func(tx *store.Tx) error { return tx.SettleNotification(n.ID, n.Way, state, t.Now().UTC()) })
}

// push sends to all browsers of somebody. It tells whether any is reached; the error says that it is worth another try.
func (t *Teller) push(ctx context.Context, n store.Notification) (sent bool, err error) {
	var to []store.PushAddress
	if err := t.Store.Read(ctx, func(tx *store.Tx) (err error) {
		to, err = tx.PushAddresses(n.Person)
		return err
	}); err != nil {
		return false, err
	}
	raw, err := json.Marshal(Message{Title: n.Title, Text: n.Text, Visit: n.Visit})
	if err != nil {
		return false, err
	}
	var failed error
	for _, a := range to {
		switch err := t.Push.Push(ctx, a, raw); {
		case err == nil:
			sent = true
		case errors.Is(err, ErrGone):
			if err := t.Store.Write(ctx, func(tx *store.Tx) error { return tx.ForgetPushAddress(a.Endpoint) }); err != nil {
				return sent, err
			}
		default:
			failed = err
		}
	}
	if sent || t.Now().Sub(n.Made) > giveUp {
		return sent, nil
	}
	return false, failed
}
