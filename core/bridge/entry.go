package bridge

import (
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/replica"
)

var entryFunctions = functions{
	"stamp": with(func(in Stamp) (Stamped, error) {
		s, e := replica.Stamp(in.State, in.Draft, in.ID, time.UnixMilli(in.Now), in.Zone)
		f, err := ledger.Open(e)
		if err != nil {
			return Stamped{}, err
		}
		return Stamped{s, e, f.Keys()}, nil
	}),
	"apply": with(func(in Apply) (Applied, error) {
		f, err := ledger.Open(in.Entry)
		if err != nil {
			return Applied{}, err
		}
		changed, flags, err := f.Apply(bodies(in.Docs))
		if err != nil {
			return Applied{}, err
		}
		out := Applied{Docs: []ledger.Doc{}, Flags: append([]ledger.Flag{}, flags...)}
		for _, k := range f.Keys() {
			if b, ok := changed[k]; ok {
				out.Docs = append(out.Docs, ledger.Doc{Ref: k, Body: b})
			}
		}
		return out, nil
	}),
	"strike": with(func(in Strike) (Striking, error) {
		var m ledger.Memory
		for ref, text := range bodies(in.Docs) {
			m.Put(ref, text)
		}
		strike, wanted, err := ledger.Striking(&m, in.Subject, in.Strike)
		return Striking{strike, append([]ledger.Ref{}, wanted...)}, err
	}),
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

// Stamp makes an entry of a draft. Now is milliseconds since 1970 on the device's clock.
type Stamp struct {
	State replica.State `json:"state"`
	Draft replica.Draft `json:"draft"`
	ID    string        `json:"id"`
	Now   int64         `json:"now"`
	Zone  labor.Zone    `json:"zone"`
}

// Stamped is the entry made, the state after it, and the documents needed to apply it.
type Stamped struct {
	State replica.State `json:"state"`
	Entry ledger.Entry  `json:"entry"`
	Keys  []ledger.Ref  `json:"keys"`
}

// Apply applies an entry to documents.
type Apply struct {
	Docs  []ledger.Doc `json:"docs"`
	Entry ledger.Entry `json:"entry"`
}

// Applied is what an entry changed. Documents are in the order of the entry's keys.
type Applied struct {
	Docs  []ledger.Doc  `json:"docs"`
	Flags []ledger.Flag `json:"flags"`
}

// Strike asks for what a strike-out of an entry has to say beside what is known of the entry. A document without a body is known not to be
// there.
type Strike struct {
	Docs    []ledger.Doc  `json:"docs"`
	Subject ledger.Ref    `json:"subject"`
	Strike  ledger.Struck `json:"strike"`
}

// Striking is the whole of it, or the documents to load first.
type Striking struct {
	Strike ledger.Struck `json:"strike"`
	Wanted []ledger.Ref  `json:"wanted"`
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
