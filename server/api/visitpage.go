package api

import (
	"encoding/json"
	"errors"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/trouble"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// visitView builds the view of a visit.
func visitView(tx *store.Tx, id string, now time.Time) (*view.Visit, error) {
	company, _, err := tx.Company(now)
	if err != nil {
		return nil, err
	}
	return store.Wanting(tx, ledger.Docs{}, func(docs ledger.Docs) (*view.Visit, []ledger.Ref, error) {
		return view.Of(id, docs, company.Zone.In(now))
	})
}

// VisitPage is a visit with all that is known of how it came about.
type VisitPage struct {
	View   view.Visit      `json:"view"`
	Trail  []TrailLine     `json:"trail"`
	Flags  []ledger.Notice `json:"flags"`  // not settled
	Phoned []string        `json:"phoned"` // names of those who wrote down what was told by telephone
	// Here tells which of the visit's files have arrived, by hash.
	Here map[string]bool `json:"here"`
	// Messages tells what became of each message to the customer, by entry: waiting, sent or late.
	Messages map[string]string `json:"messages"`
	// Closing is what closing the visit for its technician would record now; none when it is over.
	Closing *ledger.Closed `json:"closing,omitempty"`
	// Exceptions are what a finished visit is looked at for, the most pressing first.
	Exceptions []view.Exception `json:"exceptions"`
	Sheets     []FilledSheet    `json:"sheets"`
}

// FilledSheet is a check sheet with what it came to on a visit.
type FilledSheet struct {
	Sheet sheet.Sheet `json:"sheet"`
	State sheet.State `json:"state"`
}

// filledSheets gives the sheets of a visit's work order, filled in.
func filledSheets(tx *store.Tx, v work.Visit, o work.Order) ([]FilledSheet, error) {
	states, err := tx.States(v, o)
	if err != nil {
		return nil, err
	}
	out := []FilledSheet{}
	for _, st := range states {
		f := FilledSheet{State: st}
		if _, err := tx.Load("sheet", st.Sheet, &f.Sheet); err != nil {
			return nil, err
		}
		out = append(out, f)
	}
	return out, nil
}

// TrailLine is an entry in the trail: who, when, where, from which device, recorded when and arrived when.
type TrailLine struct {
	ID       string            `json:"id"`
	Kind     string            `json:"kind"`
	Actor    string            `json:"actor"` // name
	Device   string            `json:"device"`
	At       time.Time         `json:"at"`
	Received time.Time         `json:"received"`
	Where    *work.Where       `json:"where,omitempty"`
	Args     map[string]string `json:"args"` // what the sentence for the kind names
	Struck   bool              `json:"struck,omitempty"`
	// Brought is the name of who brought it, when it did not come from its actor's own device.
	Brought string `json:"brought,omitempty"`
	// Strike is the body with which the office strikes the entry out, or restores it; none when it can't be.
	Strike *ledger.Struck `json:"strike,omitempty"`
	// Against is what a plan was made against, and why.
	Against *work.Against `json:"against,omitempty"`
}

func (s *Server) visit(c *gin.Context) (*VisitPage, error) {
	id := c.Param("id")
	return read(s, c, func(tx *store.Tx) (*VisitPage, error) {
		v, err := visitView(tx, id, s.now(c))
		if err != nil {
			return nil, err
		}
		ref := ledger.Ref{Type: "visit", ID: id}
		log, err := tx.Trail(ref)
		if err != nil {
			return nil, err
		}
		page := &VisitPage{View: *v, Here: map[string]bool{}, Exceptions: []view.Exception{}}
		if page.Flags, err = tx.FlagsOn(ref); err != nil {
			return nil, err
		}
		phoned, err := tx.PhonedOn([]string{id})
		if err != nil {
			return nil, err
		}
		page.Phoned = append([]string{}, phoned[id]...)
		if page.Messages, err = tx.MessageStates(ledger.Ref{Type: "visit", ID: id}); err != nil {
			return nil, err
		}
		if x := v.Visit; x.Stage != work.Finished && x.Stage != work.Withdrawn {
			now := s.now(c)
			company, _, err := tx.Company(now)
			if err != nil {
				return nil, err
			}
			end, people := x.Closing(company.Zone.In(now.Truncate(time.Millisecond)))
			page.Closing = &ledger.Closed{End: end, People: people}
		}
		for _, f := range v.Visit.Files {
			if _, page.Here[f.Hash], err = tx.File(f.Hash); err != nil {
				return nil, err
			}
		}
		if v.Visit.Stage == work.Finished {
			if page.Exceptions, err = exceptions(tx, id, v); err != nil {
				return nil, err
			}
		}
		if page.Sheets, err = filledSheets(tx, v.Visit, v.Order); err != nil {
			return nil, err
		}
		page.Trail, err = trail(tx, log, page)
		return page, err
	})
}

// trail puts entries into plain facts, with names for ids.
func trail(tx *store.Tx, log []store.Logged, page *VisitPage) ([]TrailLine, error) {
	v := &page.View
	out := []TrailLine{}
	for _, l := range log {
		line := TrailLine{ID: l.ID, Kind: l.Kind, At: l.At, Received: l.Received, Args: map[string]string{}}
		var err error
		if line.Actor, line.Device, err = recordedBy(tx, l); err != nil {
			return nil, err
		}
		if l.Brought != "" {
			if line.Brought, err = tx.NameOf(l.Brought); err != nil {
				return nil, err
			}
		}
		var b struct {
			Where                                                                                       *work.Where
			Text, Reason, Outcome, Part, Quantity, Point, Value, Unit, Question, Name, Role, Technician string
			Sheet, Task, Helper, To, Clock, Substance, Act, Caption, Amount, Kit, Result, Remark        string
			Trouble, Cause, Remedy                                                                      string
			Start                                                                                       time.Time
			Against                                                                                     *work.Against
		}
		_ = json.Unmarshal(l.Body, &b) // a body of another shape leaves the fields empty
		line.Where, line.Against = b.Where, b.Against
		for name, value := range map[string]string{"text": b.Text, "reason": b.Reason, "outcome": b.Outcome, "part": b.Part,
			"quantity": b.Quantity, "point": b.Point, "value": b.Value, "unit": b.Unit, "question": b.Question, "name": b.Name,
			"role": b.Role, "technician": b.Technician, "to": b.To, "clock": b.Clock, "substance": b.Substance, "act": b.Act,
			"amount": b.Amount, "caption": b.Caption, "kit": b.Kit} {
			if value != "" {
				line.Args[name] = value
			}
		}
		if !b.Start.IsZero() {
			line.Args["start"] = b.Start.Format(time.RFC3339)
		}
		for arg, person := range map[string]string{"technician": b.Technician, "helper": b.Helper} {
			if person == "" {
				continue
			}
			if line.Args[arg], err = tx.NameOf(person); err != nil {
				return nil, err
			}
		}
		if l.Kind == "task.noted" {
			rules, err := store.SettingsAt[work.OrderSettings](tx, l.At)
			if err != nil {
				return nil, err
			}
			line.Args["result"], line.Args["remark"] = b.Result, b.Remark
			if i := slices.IndexFunc(rules.Results, func(c records.Choice) bool { return c.ID == b.Result }); i >= 0 {
				line.Args["result"] = rules.Results[i].Text
			}
		}
		if l.Kind == "trouble.found" {
			tree, err := store.SettingsAt[trouble.Settings](tx, l.At)
			if err != nil {
				return nil, err
			}
			for arg, id := range map[string]string{"trouble": b.Trouble, "cause": b.Cause, "remedy": b.Remedy} {
				if n, ok := tree.Node(id); ok {
					line.Args[arg] = n.Text
				}
			}
		}
		if task, ok := v.Order.Task(b.Task); ok {
			line.Args["task"] = task.Name
		}
		name(page, l.ID, b.Sheet, b.Question, line.Args)
		if ledger.Strikable(l.Kind) {
			strike, err := tx.Striking(l.Entry)
			why, ours := errors.AsType[*msg.Code](err)
			switch {
			case err != nil && !ours:
				return nil, err
			case ours && why.Code == "strike.unknown": // it stands on nothing any more
			default: // what else is in the way is said to whoever tries
				line.Strike = &strike
			}
		}
		if f, err := ledger.Open(l.Entry); err == nil {
			if other, struck := f.Strikes(); other != "" {
				for i := range out {
					if out[i].ID == other {
						out[i].Struck = struck
						line.Args["kind"] = out[i].Kind
					}
				}
			}
		}
		out = append(out, line)
	}
	return out, nil
}

// name replaces ids in a trail line by what the view calls them.
func name(page *VisitPage, entry, sheetRef, question string, args map[string]string) {
	v := page.View
	for _, p := range v.Parts {
		if p.Entry == entry {
			args["part"], args["unit"] = p.Name, p.Unit
		}
	}
	for _, k := range v.Kits {
		if k.Entry == entry {
			args["kit"] = k.Name
		}
	}
	for _, r := range v.Readings {
		if r.Entry == entry {
			args["point"] = r.PointName
		}
	}
	for _, s := range page.Sheets {
		if s.State.Sheet != sheetRef {
			continue
		}
		args["sheet"] = s.Sheet.Title
		if q, ok := s.Sheet.Find(question); ok {
			args["question"], args["value"] = q.Text, q.Words(args["value"])
		}
	}
}
