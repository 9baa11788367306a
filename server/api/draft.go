package api

import (
	"encoding/json"
	"errors"
	"maps"
	"slices"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/oklog/ulid/v2"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

// PlanDraft is what somebody means to change of the plan, beside what it is.
type PlanDraft struct {
	Lines []DraftLine `json:"lines"`
	// Days are those that it changes, in order, at most mostDraftDays; More is how many there are besides.
	Days []DraftDay `json:"days"`
	More int        `json:"more,omitempty"`
	// Worked is when the program worked it out by itself, zero when somebody made it.
	Worked time.Time `json:"worked,omitzero"`
}

// DraftLine is a change.
type DraftLine struct {
	ledger.DraftChange
	Order OrderLine `json:"order"`
	// Name and WasName are whose visit it is to be and whose it was, short.
	Name    string `json:"name,omitempty"`
	WasName string `json:"wasName,omitempty"`
	// Commands are what publishes it, in order.
	Commands []DraftCommand `json:"commands"`
	// Now is how the visit stands when that is not as the change was made from: nil when it is, or when there is none any more, as Gone
	// tells. Cannot says why it can't be published.
	Now     *ledger.DraftWas `json:"now,omitempty"`
	NowName string           `json:"nowName,omitempty"`
	Gone    bool             `json:"gone,omitempty"`
	// Besides tells that somebody planned another visit for the work order since, and Over that it was closed or cancelled.
	Besides bool      `json:"besides,omitempty"`
	Over    bool      `json:"over,omitempty"`
	Cannot  *msg.Code `json:"cannot,omitempty"`
}

// DraftCommand is a command that is not given yet.
type DraftCommand struct {
	Kind    string          `json:"kind"`
	Subject ledger.Ref      `json:"subject"`
	Body    json.RawMessage `json:"body"`
}

// DraftDay is what a day comes to as it is planned, and as it would be.
type DraftDay struct {
	Date   string      `json:"date"`
	Before plan.Course `json:"before"`
	After  plan.Course `json:"after"`
}

// mostDraftDays is of how many days it is told what they come to.
const mostDraftDays = 14

// drafted runs a question on the plan as it would be with the draft of whoever asks, and gives what can't be, by visit.
func drafted[T any](s *Server, c *gin.Context, f func(*store.Tx) (T, error)) (out T, cannot map[string]*msg.Code, err error) {
	err = s.Store.Trial(c.Request.Context(),
		func(tx *store.Tx) error {
			seq, err := tx.Seq()
			if err != nil {
				return err
			}
			c.Header(seenHeader, strconv.FormatInt(seq, 10))
			cannot, err = supposeDraft(tx, who(c).PersonID, s.now(c))
			return err
		},
		func(tx *store.Tx) (err error) { out, err = f(tx); return err })
	return out, cannot, err
}

// readPlan runs a question on the plan as it is, or as it would be with the draft of whoever asks.
func readPlan[T any](s *Server, c *gin.Context, draft bool, f func(*store.Tx) (T, error)) (T, error) {
	if !draft {
		return read(s, c, f)
	}
	out, _, err := drafted(s, c, f)
	return out, err
}

// supposeDraft supposes that a person's draft was published, but for what can't be: that is given, by visit.
func supposeDraft(tx *store.Tx, person string, now time.Time) (map[string]*msg.Code, error) {
	d, err := draftOf(tx, person)
	if err != nil {
		return nil, err
	}
	cannot := map[string]*msg.Code{}
	for _, x := range d.Changes {
		for _, k := range x.Commands() {
			err := suppose(tx, k, person, now)
			if code, ok := errors.AsType[*msg.Code](err); ok {
				cannot[x.Visit] = code
				break
			} else if err != nil {
				return nil, err
			}
		}
	}
	return cannot, nil
}

// suppose supposes that a person gave a command. The error is a *msg.Code when it would be refused.
func suppose(tx *store.Tx, k ledger.Command, person string, now time.Time) error {
	body, err := json.Marshal(k.Body)
	if err != nil {
		return err
	}
	f, err := ledger.Open(ledger.Entry{ID: ulid.Make().String(), Kind: k.Kind, V: ledger.Version(k.Kind), At: now, Actor: person,
		Replica: office.Replica, N: 1, Subject: k.Subject, Body: body})
	if err != nil {
		return err
	}
	return tx.Suppose(f)
}

func draftOf(tx *store.Tx, person string) (d ledger.Draft, err error) {
	_, err = tx.Load("draft", person, &d)
	return d, err
}

// draft tells what whoever asks has in their draft, what it comes to, and what became of its visits meanwhile.
func (s *Server) draft(c *gin.Context) (PlanDraft, error) {
	now := s.now(c)
	var dates []string
	var before []*dayPlan
	out, err := read(s, c, func(tx *store.Tx) (out PlanDraft, err error) {
		rules, err := tx.Settings(now)
		if err != nil {
			return out, err
		}
		d, err := draftOf(tx, who(c).PersonID)
		if err != nil {
			return out, err
		}
		if out.Worked = d.Worked; !d.Worked.IsZero() {
			out.Worked = rules.Company.Zone.In(d.Worked)
		}
		if out.Lines, dates, err = draftLines(tx, d, rules); err != nil {
			return out, err
		}
		out.More = max(len(dates)-mostDraftDays, 0)
		dates = dates[:min(len(dates), mostDraftDays)]
		before, err = daysOf(tx, dates, now, rules)
		return out, err
	})
	if out.Days = []DraftDay{}; err != nil || len(out.Lines) == 0 {
		return out, err
	}
	after, cannot, err := drafted(s, c, func(tx *store.Tx) ([]*dayPlan, error) {
		rules, err := tx.Settings(now)
		if err != nil {
			return nil, err
		}
		return daysOf(tx, dates, now, rules)
	})
	if err != nil {
		return out, err
	}
	for i := range out.Lines {
		out.Lines[i].Cannot = cannot[out.Lines[i].Visit]
	}
	for i, date := range dates {
		for _, d := range []*dayPlan{before[i], after[i]} {
			if err := s.openDay(c, d); err != nil {
				return out, err
			}
		}
		out.Days = append(out.Days, DraftDay{date, before[i].day.Total(), after[i].day.Total()})
	}
	return out, nil
}

// draftLines are the changes of a draft, and the dates that they are on, in order.
func draftLines(tx *store.Tx, d ledger.Draft, rules ledger.Settings) ([]DraftLine, []string, error) {
	out, dates := []DraftLine{}, map[string]bool{}
	on := func(t time.Time) { dates[rules.Company.Zone.In(t).Format(time.DateOnly)] = true }
	for _, x := range d.Changes {
		l := DraftLine{DraftChange: x}
		for _, k := range x.Commands() {
			body, err := json.Marshal(k.Body)
			if err != nil {
				return nil, nil, err
			}
			l.Commands = append(l.Commands, DraftCommand{k.Kind, k.Subject, body})
		}
		var v *work.Visit
		var held work.Visit
		order, person := "", ""
		if is, err := tx.Load("visit", x.Visit, &held); err != nil {
			return nil, nil, err
		} else if is {
			v, order = &held, held.Order
			on(v.Start)
		}
		switch {
		case x.Plan != nil:
			order, person = x.Plan.Order, x.Plan.Technician
			on(x.Plan.Start)
		case x.Move != nil:
			person = x.Move.Technician
			on(x.Move.Start)
		}
		if x.Underneath(v) {
			if l.Gone = v == nil; v != nil {
				l.Now = &ledger.DraftWas{Technician: v.Technician, Start: v.Start, Minutes: v.Minutes, Stage: v.Stage}
			}
		}
		w, err := tx.Work(order)
		if err != nil {
			return nil, nil, err
		}
		state, err := tx.OrderState(order)
		if err != nil {
			return nil, nil, err
		}
		l.Besides, l.Over = x.Besides(w.Order), x.Withdraw == nil && (state == work.Closed || state == work.Cancelled)
		if l.Order, err = orderLine(tx, order); err != nil {
			return nil, nil, err
		}
		if l.Name, err = shortOf(tx, person); err != nil {
			return nil, nil, err
		}
		if x.Was != nil {
			if l.WasName, err = shortOf(tx, x.Was.Technician); err != nil {
				return nil, nil, err
			}
		}
		if l.Now != nil {
			if l.NowName, err = shortOf(tx, l.Now.Technician); err != nil {
				return nil, nil, err
			}
		}
		out = append(out, l)
	}
	return out, slices.Sorted(maps.Keys(dates)), nil
}

func shortOf(tx *store.Tx, person string) (string, error) {
	if person == "" {
		return "", nil
	}
	p := records.Person{Short: person}
	_, err := tx.Load("person", person, &p)
	return p.Short, err
}

func daysOf(tx *store.Tx, dates []string, now time.Time, rules ledger.Settings) (out []*dayPlan, err error) {
	for _, date := range dates {
		d, err := dayOf(tx, date, now, rules)
		if err != nil {
			return nil, err
		}
		out = append(out, d)
	}
	return out, nil
}
