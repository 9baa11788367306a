package bridge

import (
	"cmp"
	"slices"
	"sync"
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
)

// Documents are what a call works on. The core keeps those of each holder, and as values, so that a call tells only what it has not told
// before.
type Documents struct {
	// Holder is whose documents they are: a number for each database that a page has open. 0 holds nothing after the call.
	Holder int64 `json:"holder,omitempty"`
	// Docs are those that the core does not have, or that have changed since. One without a body is known not to be there.
	Docs []ledger.Doc `json:"docs"`
}

// memory is what the core has of a holder's documents.
type memory struct {
	ledger.Memory
	changed []ledger.Ref // by the entry that was recorded last
}

var (
	holding sync.Mutex
	holders = map[int64]*memory{}
)

// memory is what the core has of the holder's documents, with those that the call tells.
func (d Documents) memory() *memory {
	m := &memory{}
	if d.Holder != 0 {
		holding.Lock()
		defer holding.Unlock()
		if have, ok := holders[d.Holder]; ok {
			m = have
		}
		holders[d.Holder] = m
	}
	for _, doc := range d.Docs {
		m.Put(doc.Ref, doc.Body)
	}
	return m
}

// Moment is the documents, and when it is.
type Moment struct {
	Documents
	Now  int64      `json:"now"` // milliseconds since 1970, on the server's clock
	Zone labor.Zone `json:"zone"`
}

func (m Moment) now() time.Time { return m.Zone.In(time.UnixMilli(m.Now)) }

// Asked is what an answer rests on.
type Asked struct {
	Read   []ledger.Ref `json:"read"`   // the documents that it was made from, or that it found not to be there
	Wanted []ledger.Ref `json:"wanted"` // those to be told first: while there are any, there is no answer yet
}

// asked is the holder's documents, which note what is read of them.
type asked struct {
	*memory
	read   map[ledger.Ref]bool
	wanted []ledger.Ref
}

func (m Moment) ask() *asked { return &asked{memory: m.memory(), read: map[ledger.Ref]bool{}} }

// Load is Memory's.
func (a *asked) Load(r ledger.Ref, v any) (bool, error) {
	a.read[r] = true
	return a.memory.Load(r, v)
}

// look loads a document, or notes that it is wanted.
func (a *asked) look(typ, id string, v any) (bool, error) {
	ref := ledger.Ref{Type: typ, ID: id}
	if !a.Has(ref) {
		a.wanted = append(a.wanted, ref)
	}
	return a.Load(ref, v)
}

// cards loads timecards, unless something failed before.
func (a *asked) cards(ids []string, err error) ([]labor.Timecard, error) {
	var out []labor.Timecard
	for _, id := range ids {
		var c labor.Timecard
		found, e := a.look("timecard", id, &c)
		if err = cmp.Or(err, e); found {
			out = append(out, c)
		}
	}
	return out, err
}

func (a *asked) and(wanted []ledger.Ref) Asked {
	out := Asked{Read: make([]ledger.Ref, 0, len(a.read)), Wanted: append([]ledger.Ref{}, wanted...)}
	for r := range a.read {
		out.Read = append(out.Read, r)
	}
	slices.SortFunc(out.Read, ledger.Ref.Compare)
	return out
}
