package bridge

import (
	"encoding/json"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/replica"
)

var entryFunctions = functions{
	"record":  with(func(in Record) (Recorded, error) { return in.record() }),
	"changed": with(func(in Documents) (Changed, error) { return in.changed() }),
	"show":    with(func(in Show) (Shown, error) { return in.show(), nil }),
	"next": with(func(in Next) (replica.Request, error) {
		return replica.Next(in.State, in.Pending, time.UnixMilli(in.Now).UTC()), nil
	}),
	"touched": with(func(in Receive) ([]ledger.Ref, error) {
		return append([]ledger.Ref{}, replica.Touched(in.State, in.Pending, in.Response)...), nil
	}),
	"receive": with(func(in Receive) (replica.Change, error) {
		trip := replica.Trip{Sent: time.UnixMilli(in.Sent), Arrived: time.UnixMilli(in.Now),
			Took: time.Duration(in.Took * float64(time.Millisecond))}
		return replica.Receive(in.State, in.Pending, in.Acknowledged, in.Base, in.Response, trip, in.Identity), nil
	}),
}

// Record makes an entry of a draft and applies it. Now is milliseconds since 1970 on the device's clock. The holder has what it changed
// from then on: a caller that could not keep the entry tells those documents anew.
type Record struct {
	Moment
	State replica.State `json:"state"`
	Draft replica.Draft `json:"draft"`
	ID    string        `json:"id"`
}

// Recorded is the entry, not numbered, and what it raised.
type Recorded struct {
	Entry  ledger.Entry  `json:"entry"`
	Flags  []ledger.Flag `json:"flags"`
	Wanted []ledger.Ref  `json:"wanted"` // documents to be told first: while there are any, nothing is recorded
}

func (in Record) record() (Recorded, error) {
	m := in.memory()
	out := Recorded{Flags: []ledger.Flag{}, Wanted: []ledger.Ref{}}
	draft := in.Draft
	if draft.Kind == "entry.struck" { // it says beside its subject what documents the entry counted on
		var s ledger.Struck
		if err := json.Unmarshal(draft.Body, &s); err != nil {
			return out, msg.New("entry.body", "kind", draft.Kind)
		}
		whole, wanted, err := ledger.Striking(&m.Memory, draft.Subject, s)
		if err != nil || len(wanted) > 0 {
			out.Wanted = append(out.Wanted, wanted...)
			return out, err
		}
		if draft.Body, err = json.Marshal(whole); err != nil {
			return out, err
		}
	}
	_, out.Entry = replica.Stamp(in.State, draft, in.ID, 0, time.UnixMilli(in.Now), in.Zone)
	f, err := ledger.Open(out.Entry)
	if err != nil {
		return out, err
	}
	for _, k := range f.Keys() {
		if !m.Has(k) {
			out.Wanted = append(out.Wanted, k)
		}
	}
	if len(out.Wanted) > 0 {
		return out, nil
	}
	changed, flags, err := m.Apply(f)
	m.changed, out.Flags = changed, append(out.Flags, flags...)
	return out, err
}

// Changed are the documents that the holder's last entry changed.
type Changed struct {
	Docs []ledger.Doc `json:"docs"`
}

func (d Documents) changed() (Changed, error) {
	out := Changed{Docs: []ledger.Doc{}}
	m := d.memory()
	for _, k := range m.changed {
		text, err := m.Text(k)
		if err != nil {
			return out, err
		}
		out.Docs = append(out.Docs, ledger.Doc{Ref: k, Body: text})
	}
	return out, nil
}

// Show asks for documents as they are with pending entries, in the order they are sent, on top of the server's.
type Show struct {
	Docs    []ledger.Doc      `json:"docs"`
	Pending []replica.Pending `json:"pending"`
}

// Shown is that: all documents that the entries touch.
type Shown struct {
	Docs   []ledger.Doc `json:"docs"`
	Wanted []ledger.Ref `json:"wanted"` // documents of the server's to be told first
}

func (in Show) show() Shown {
	out := Shown{Docs: []ledger.Doc{}, Wanted: []ledger.Ref{}}
	base := map[ledger.Ref]ledger.Doc{}
	known := map[ledger.Ref]bool{}
	for _, d := range in.Docs {
		if known[d.Ref] = true; len(d.Body) > 0 && string(d.Body) != "null" {
			base[d.Ref] = d
		}
	}
	touched := replica.Touched(replica.State{}, in.Pending, replica.Response{})
	for _, k := range touched {
		if !known[k] {
			out.Wanted = append(out.Wanted, k)
		}
	}
	if len(out.Wanted) > 0 {
		return out
	}
	shown := replica.Show(base, in.Pending)
	for _, k := range touched {
		out.Docs = append(out.Docs, ledger.Doc{Ref: k, Rev: base[k].Rev, Body: shown[k]})
	}
	return out
}

// Next asks what to send.
type Next struct {
	State   replica.State     `json:"state"`
	Pending []replica.Pending `json:"pending"`
	Now     int64             `json:"now"`
}

// Receive takes in an answer. Sent and Now, when it came, are milliseconds since 1970 on the device's clock; Took is how many passed
// between them on one that nobody sets.
type Receive struct {
	State   replica.State     `json:"state"`
	Pending []replica.Pending `json:"pending"`
	Base    []ledger.Doc      `json:"base"`
	// Acknowledged is needed when the response says Renew.
	Acknowledged []replica.Pending `json:"acknowledged"`
	Response     replica.Response  `json:"response"`
	Sent         int64             `json:"sent"`
	Now          int64             `json:"now"`
	Took         float64           `json:"took"`
	Identity     string            `json:"identity"`
}
