package ledger

import (
	"encoding/json"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/work"
)

// Command is a command that is not given yet. Base is that of an amendment.
type Command struct {
	Kind       string
	Subject    Ref
	Body, Base any
	// Why tells that the body lacks the reason, which whoever gives the command says.
	Why bool
}

// Undo gives the commands that take the entry back, in order; none when nothing does, as when somebody was told. before reads documents
// as they were before the entry.
func (f *Fact) Undo(before Loader) ([]Command, error) {
	e := f.read
	if f.kind.undo != nil {
		return f.kind.undo(before, e, f.body)
	}
	if f.kind.strike != nil {
		return []Command{{Kind: "entry.struck_by_office", Subject: e.Subject, Why: true,
			Body: Struck{Entry: e.ID, At: e.At, Kind: e.Kind, Person: e.Actor}}}, nil
	}
	return nil, nil
}

// opposed is the opposite of a kind whatever its body says.
func opposed[B any](kind string, body any, why bool) func(Loader, Entry, B) ([]Command, error) {
	return func(_ Loader, e Entry, _ B) ([]Command, error) {
		return []Command{{Kind: kind, Subject: e.Subject, Body: body, Why: why}}, nil
	}
}

// struckAgain is the opposite of striking out, and of restoring.
func struckAgain(kind string) func(Loader, Entry, Struck) ([]Command, error) {
	return func(_ Loader, e Entry, b Struck) ([]Command, error) {
		return []Command{{Kind: kind, Subject: e.Subject, Why: true, Body: b}}, nil
	}
}

// actedBefore gives the acts that make a work order again what the last act before the entry had made of it: undo, and what stood before.
func actedBefore[B any](undo Command) func(Loader, Entry, B) ([]Command, error) {
	return func(before Loader, e Entry, _ B) ([]Command, error) {
		var o work.Order
		if ok, err := before(e.Subject, &o); err != nil || !ok {
			return nil, err
		}
		undo.Subject = e.Subject
		act := o.Act()
		switch act.Act {
		case work.Hold:
			held := Command{Kind: "work.held", Subject: e.Subject, Body: OrderHeld{Reason: act.Reason, Until: act.Until}}
			if e.Kind == "work.held" || e.Kind == "work.released" {
				return []Command{held}, nil
			}
			return []Command{undo, held}, nil
		case work.Cancel, work.Close:
			return []Command{{Kind: "work." + string(act.Act), Subject: e.Subject, Body: OrderActed{Reason: act.Reason}}}, nil
		case work.Release, work.Reopen:
		}
		if undo.Kind == "" {
			return nil, nil
		}
		return []Command{undo}, nil
	}
}

// needsBefore plans the parts again that a work order had.
func needsBefore(before Loader, e Entry, _ NeedsPlanned) ([]Command, error) {
	var o work.Order
	if ok, err := before(e.Subject, &o); err != nil || !ok {
		return nil, err
	}
	needs := []work.Need{}
	for _, n := range o.Needs {
		if n.Request == "" {
			needs = append(needs, n)
		}
	}
	return []Command{{Kind: e.Kind, Subject: e.Subject, Body: NeedsPlanned{Needs: needs}}}, nil
}

// movedBack gives a visit back to whom and when it was. One that was offered has nobody to go back to.
func movedBack(before Loader, e Entry, _ Move) ([]Command, error) {
	var v work.Visit
	if ok, err := before(e.Subject, &v); err != nil || !ok || v.Technician == "" {
		return nil, err
	}
	return []Command{{Kind: e.Kind, Subject: e.Subject, Body: Move{Technician: v.Technician, Start: v.Start, Minutes: v.Minutes,
		Helpers: append([]string{}, v.Helpers...), Things: append([]string{}, v.Things...), Against: v.Against}}}, nil
}

// cancelling cancels a purchase: what it was for is asked for again.
func cancelling(_ Loader, e Entry, b PurchaseMade) ([]Command, error) {
	var requests []string
	for _, l := range b.Lines {
		for _, r := range l.Requests {
			requests = append(requests, r.Request)
		}
	}
	return []Command{{Kind: "purchase.cancelled", Subject: e.Subject, Body: PurchaseCancelled{Requests: requests}, Why: true}}, nil
}

// amendedBack gives the fields that an amendment changed their values again.
func amendedBack(before Loader, e Entry, patch json.RawMessage) ([]Command, error) {
	var doc json.RawMessage
	if ok, err := before(e.Subject, &doc); err != nil || !ok {
		return nil, err
	}
	back, err := reversed(doc, patch)
	if err != nil {
		return nil, err
	}
	return []Command{{Kind: e.Kind, Subject: e.Subject, Body: back, Base: patch}}, nil
}

// reversed is the merge patch that undoes one on a document.
func reversed(doc, patch json.RawMessage) (json.RawMessage, error) {
	have, changes := fields(doc), fields(patch)
	if changes == nil {
		return nil, msg.New("entry.body", "kind", "record.amended")
	}
	out := map[string]json.RawMessage{}
	for name, value := range changes {
		was, there := have[name]
		switch {
		case !there:
			out[name] = json.RawMessage("null")
		case fields(value) != nil && fields(was) != nil:
			var err error
			if out[name], err = reversed(was, value); err != nil {
				return nil, err
			}
		default:
			out[name] = was
		}
	}
	return json.Marshal(out)
}

// createdNoMore drops what somebody made for themselves. Other records stay: somebody may work with them by now.
func createdNoMore(_ Loader, e Entry, _ json.RawMessage) ([]Command, error) {
	if e.Subject.Type != "listview" && e.Subject.Type != "template" {
		return nil, nil
	}
	return []Command{{Kind: "record.amended", Subject: e.Subject, Body: map[string]bool{"gone": true}, Base: map[string]bool{}}}, nil
}
