// Package replica is a device's side of sync, as pure functions: record an entry, say what to send, take in an answer.
//
// A device keeps four things: base, the documents as the server last gave them; pending, its entries that the server has not
// yet folded into what it gave; shown, base with the pending entries applied on top; and acknowledged, its entries that the server has but
// that may rest on one disk alone. The caller keeps them in one database and writes what a function returns in one transaction, so a device
// that dies between two calls has lost nothing.
//
// What is acknowledged is let go of once the server says that a second place holds it (Response.Kept). A server that was restored from an
// older copy has another history; to it the device gives again what it still has, as it was logged (Pending.Again).
package replica

import (
	"cmp"
	"encoding/json"
	"slices"
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
)

// State is what a device knows of itself.
type State struct {
	Replica string       `json:"replica"` // its identity at the server
	Person  string       `json:"person"`
	Cursor  string       `json:"cursor"`            // how far the server has told it
	Skew    int64        `json:"skew"`              // milliseconds to add to the device's clock to get the server's
	Last    time.Time    `json:"last,omitzero"`     // time of its last entry
	Contact time.Time    `json:"contact,omitzero"`  // last answer, on the server's clock
	Leaving []ledger.Ref `json:"leaving,omitempty"` // no longer in scope, but still written about
	// Alone tells that the server has its data on one disk alone.
	Alone bool `json:"alone,omitempty"`
	// History is which history of the server's log the cursor and the places of acknowledged entries are of.
	History string `json:"history,omitempty"`
	// Unsure are documents held under an earlier identity, of which the server does not know: what it does not tell of again
	// is no longer in scope.
	Unsure []ledger.Ref `json:"unsure,omitempty"`
}

// Pending is an entry the server has not yet folded into the device's base.
type Pending struct {
	ledger.Entry
	Seq  int64     `json:"seq,omitempty"`  // its place in the log, once taken
	Held *msg.Code `json:"held,omitempty"` // why it waits for a person at the office
	// Again tells that it was acknowledged by a server that has been restored from a copy of before: it goes as it was logged, before all
	// else.
	Again bool `json:"again,omitempty"`
}

// Draft is what a person records: the rest of the entry the device knows itself.
type Draft struct {
	Kind    string          `json:"kind"`
	Subject ledger.Ref      `json:"subject"`
	Body    json.RawMessage `json:"body"`
	Base    json.RawMessage `json:"base,omitempty"`
	// Actor is who records, when it is not the device's own person: at a shared terminal.
	Actor string `json:"actor,omitempty"`
	// Identified is how that actor identified themselves.
	Identified *Identified `json:"identified,omitempty"`
}

// Identified is somebody who identified themselves at a shared terminal: when, on the device's clock (milliseconds since 1970), and the
// key under which what they record is proven to be theirs.
type Identified struct {
	Since int64  `json:"since"`
	Key   string `json:"key"`
}

// Verdict is what the server did with an entry.
type Verdict string

const (
	Taken     Verdict = "taken"
	Duplicate Verdict = "duplicate" // it had it already
	Held      Verdict = "held"      // kept, for a person to decide
	SetAside  Verdict = "set_aside" // a person decided not to apply it
)

// Values lists the verdicts, for generated types.
func (Verdict) Values() []string {
	return []string{string(Taken), string(Duplicate), string(Held), string(SetAside)}
}

// Receipt answers for one entry.
type Receipt struct {
	ID      string    `json:"id"`
	Seq     int64     `json:"seq,omitempty"`
	Verdict Verdict   `json:"verdict"`
	Why     *msg.Code `json:"why,omitempty"`
}

// Request is what a device sends.
type Request struct {
	Replica string         `json:"replica"`
	Cursor  string         `json:"cursor"`
	Now     time.Time      `json:"now"` // on the device's own clock
	Entries []ledger.Entry `json:"entries"`
	// Again are entries that were acknowledged before the server was restored, under whatever identity the device had then. While there are
	// such, Entries are none: they may rest on them.
	Again   []ledger.Entry `json:"again,omitempty"`
	Held    []string       `json:"held,omitempty"`    // entries whose fate it asks after
	History string         `json:"history,omitempty"` // of the server's log, as the device knows it
	// Unsent is what the device will still have after this request: entries and files.
	Unsent  int    `json:"unsent,omitempty"`
	Version string `json:"version,omitempty"` // of the program on it
	Key     string `json:"key,omitempty"`     // its public key (SPKI, base64), until it has been told
	// Wiped says that the device, whose access was ended, keeps nothing any more.
	Wiped bool `json:"wiped,omitempty"`
	// Looked are visits that were looked at since the device told last, planned as they were on it then.
	Looked []Look `json:"looked,omitempty"`
}

// Look is a visit that somebody looked at.
type Look struct {
	Visit string    `json:"visit"`
	Start time.Time `json:"start"` // when it was planned for
	At    time.Time `json:"at"`    // on the device's clock
}

// MostLooks is how many visits a device tells at once that were looked at; of more, the last.
const MostLooks = 200

// Response is what the server answers. Cursor covers Docs and Gone; More asks for another round at once.
type Response struct {
	Receipts   []Receipt    `json:"receipts"`
	Docs       []ledger.Doc `json:"docs"`
	Gone       []ledger.Ref `json:"gone"`
	Cursor     string       `json:"cursor"`
	More       bool         `json:"more"`
	ServerTime time.Time    `json:"serverTime"` // when the request had come
	// Took is how many milliseconds passed from then until the answer went: they say nothing of how long the way is.
	Took int64 `json:"took,omitempty"`
	// Renew tells the device to take a new identity: the server knows entries of this one that the device does not, as
	// after a restored backup. Nothing was taken; the device sends again as somebody new.
	Renew bool `json:"renew,omitempty"`
	// History names the history of the server's log: it is another after the server was restored from a copy. Entries up to Kept, by their
	// place in it, are in a second place too.
	History string `json:"history,omitempty"`
	Kept    int64  `json:"kept,omitempty"`
	// Alone tells that there is no second place: Kept is of a number of days ago.
	Alone bool `json:"alone,omitempty"`
	// Ended tells that the device's access was ended. Its entries were taken, and it is told nothing more: once it has sent
	// all entries and files, it wipes what it holds.
	Ended bool `json:"ended,omitempty"`
}

// MaxEntries is the most entries in one request.
const MaxEntries = 200

// maxAsked is the most held entries asked after in one request.
const maxAsked = 500

// maxBytes is where a request is cut short, so that it gets through a weak signal.
const maxBytes = 1 << 20

// stepBack is how far the clock may have been set back since the last entry for the new one to be put just after it.
const stepBack = 10 * time.Minute

// Stamp makes the next entry of a device from a draft, timed by the device's clock as corrected at the last contact, on the company's
// clock. Entries of a device are never out of order for a small correction of its clock. n is the entry's number: each of a device is
// greater than those before, whatever identity it had then. It is 0 when the store that the entry goes to numbers it.
func Stamp(s State, d Draft, id string, n int64, now time.Time, zone labor.Zone) (State, ledger.Entry) {
	at := now.Add(time.Duration(s.Skew) * time.Millisecond).Truncate(time.Millisecond)
	if !at.After(s.Last) && s.Last.Sub(at) < stepBack {
		at = s.Last.Add(time.Millisecond)
	}
	s.Last = zone.In(at)
	e := ledger.Entry{
		ID: id, Kind: d.Kind, V: ledger.Version(d.Kind), At: s.Last, Actor: cmp.Or(d.Actor, s.Person), Replica: s.Replica, N: n,
		Subject: d.Subject, Body: d.Body, Base: d.Base,
	}
	if d.Identified != nil {
		since := time.UnixMilli(d.Identified.Since + s.Skew)
		if since.After(e.At) { // the clock was set back since
			since = e.At
		}
		if p, err := ledger.Prove(e, d.Identified.Key, zone.In(since)); err == nil { // without proof the office decides
			e.Proof = p
		}
	}
	return s, e
}

// Next is what to send now: unsent entries in order, at most MaxEntries, and how many are left after them. What is given again goes first,
// and alone. pending must be in order of N.
func Next(s State, pending []Pending, now time.Time) Request {
	r := Request{Replica: s.Replica, Cursor: s.Cursor, Now: now, Entries: []ledger.Entry{}, History: s.History}
	size := 0
	again := slices.ContainsFunc(pending, func(p Pending) bool { return p.Again })
	for _, p := range pending {
		switch {
		case again && p.Seq == 0 && p.Held == nil:
			size += len(p.Body) + len(p.Base) + 300
			if !p.Again || r.Unsent > 0 || len(r.Again) == MaxEntries || (size > maxBytes && len(r.Again) > 0) {
				r.Unsent++
				continue
			}
			r.Again = append(r.Again, p.Entry)
		case p.Held != nil:
			if len(r.Held) < maxAsked {
				r.Held = append(r.Held, p.ID)
			}
		case p.Seq == 0:
			size += len(p.Body) + len(p.Base) + 300
			if r.Unsent > 0 || len(r.Entries) == MaxEntries || (size > maxBytes && len(r.Entries) > 0) {
				r.Unsent++
				continue
			}
			p.Replica = s.Replica // it may have been recorded just before the device took another identity
			r.Entries = append(r.Entries, p.Entry)
		}
	}
	return r
}

// Change is what to write after an answer, all in one transaction.
type Change struct {
	State   State        `json:"state"`
	Base    []ledger.Doc `json:"base"`    // put
	Drop    []ledger.Ref `json:"drop"`    // delete from base
	Shown   []ledger.Doc `json:"shown"`   // put; without a body: delete
	Pending []Pending    `json:"pending"` // all that is still pending, in order: replaces what was
	// Acknowledged are entries that the server has now: to be kept until a second place has them.
	Acknowledged []Pending `json:"acknowledged"`
	// Recalled tells that all that was acknowledged is among Pending: nothing is acknowledged any more.
	Recalled bool `json:"recalled,omitempty"`
	// Kept is the place in the log up to which acknowledged entries can be let go of.
	Kept int64 `json:"kept,omitempty"`
}

// Touched lists the documents whose base Receive needs; when the answer says Renew it needs all there are.
func Touched(s State, pending []Pending, r Response) []ledger.Ref {
	var out []ledger.Ref
	for _, d := range r.Docs {
		out = append(out, d.Ref)
	}
	out = append(append(append(out, r.Gone...), s.Leaving...), s.Unsure...)
	for _, p := range pending {
		out = append(out, keys(p.Entry)...)
	}
	return unique(out)
}

// Trip is when a request was sent and when its answer arrived, on the device's clock; and how long that took, on one that nobody sets.
type Trip struct {
	Sent, Arrived time.Time
	Took          time.Duration
}

// unsteady is by how much the device's clock may differ from one that nobody sets over a trip: by more, somebody set it meanwhile.
const unsteady = time.Second

// skew is what to add to the device's clock, by half of the way there and back, as in RFC 5905, section 8. Of a trip on which the clock was
// set nothing can be said: the next one tells.
func (t Trip) skew(s State, r Response) int64 {
	way := t.Arrived.Sub(t.Sent)
	if !s.Contact.IsZero() && (way-t.Took).Abs() > unsteady {
		return s.Skew
	}
	return r.ServerTime.Add(time.Duration(r.Took) * time.Millisecond / 2).Sub(t.Sent.Add(way / 2)).Milliseconds()
}

// Receive takes in an answer that came by a trip. base holds the documents of Touched that the device has; pending all that is pending, in
// order of N, also what was recorded since the request was made. identity is a new one to take when the server asks for it, and
// acknowledged is all there is of that, which is needed only then.
func Receive(s State, pending, acknowledged []Pending, base []ledger.Doc, r Response, trip Trip, identity string) Change {
	c := Change{State: s, Base: []ledger.Doc{}, Drop: []ledger.Ref{}, Shown: []ledger.Doc{}, Pending: []Pending{},
		Acknowledged: []Pending{}}
	c.State.Skew = trip.skew(s, r)
	c.State.Contact = r.ServerTime
	if r.Renew {
		c.State.Replica, c.State.Cursor, c.State.History = identity, "", r.History
		for _, d := range base {
			c.State.Unsure = append(c.State.Unsure, d.Ref)
		}
		c.renew(pending, acknowledged, identity)
		return c
	}
	c.State.Cursor = r.Cursor
	c.State.History, c.State.Alone = cmp.Or(r.History, s.History), r.Alone

	receipts := map[string]Receipt{}
	for _, x := range r.Receipts {
		receipts[x.ID] = x
	}
	affected := []ledger.Ref{}
	for _, p := range pending {
		if x, ok := receipts[p.ID]; ok {
			switch x.Verdict {
			case Taken, Duplicate:
				p.Seq, p.Held, p.Again = x.Seq, nil, false
				c.Acknowledged = append(c.Acknowledged, p)
			case Held:
				p.Held, p.Again = x.Why, false
				if p.Held == nil {
					p.Held = msg.New("held")
				}
			case SetAside:
				p.Held, p.Again = nil, false
				c.Acknowledged = append(c.Acknowledged, Pending{Entry: p.Entry, Seq: x.Seq})
			}
		}
		affected = append(affected, keys(p.Entry)...)
		// With nothing more to come, whatever was taken is in the documents the server gave.
		if (p.Seq > 0 && !r.More) || receipts[p.ID].Verdict == SetAside {
			continue
		}
		c.Pending = append(c.Pending, p)
	}

	if r.History == s.History && !slices.ContainsFunc(c.Pending, func(p Pending) bool { return p.Again }) {
		c.Kept = r.Kept // a place in another history would say nothing of what was acknowledged in this one
	}

	has := map[ledger.Ref]ledger.Doc{}
	for _, d := range base {
		has[d.Ref] = d
	}
	told := map[ledger.Ref]bool{}
	for _, d := range r.Docs {
		told[d.Ref] = true
		has[d.Ref] = d
		c.Base = append(c.Base, d)
		affected = append(affected, d.Ref)
	}

	waiting := map[ledger.Ref]bool{}
	for _, p := range c.Pending {
		if p.Held != nil {
			continue // it is at the office already
		}
		for _, k := range keys(p.Entry) {
			waiting[k] = true
		}
	}
	gone := append(slices.Clone(s.Leaving), r.Gone...)
	c.State.Leaving, c.State.Unsure = nil, slices.DeleteFunc(slices.Clone(s.Unsure), func(u ledger.Ref) bool { return told[u] })
	if !r.More {
		gone, c.State.Unsure = append(gone, c.State.Unsure...), nil
	}
	for _, g := range unique(gone) {
		if told[g] {
			continue // it came back
		}
		if waiting[g] {
			c.State.Leaving = append(c.State.Leaving, g)
			continue
		}
		delete(has, g)
		c.Drop = append(c.Drop, g)
		affected = append(affected, g)
	}

	shown := Show(has, c.Pending)
	for _, ref := range unique(affected) {
		c.Shown = append(c.Shown, ledger.Doc{Ref: ref, Rev: has[ref].Rev, Body: shown[ref]})
	}
	return c
}

// renew makes pending what a device of a new identity has to send: what was acknowledged is given again first, as it was logged, and what
// was not goes under the new identity, with its number. What the server had held it may not know of any more: that is sent as new, too.
func (c *Change) renew(pending, acknowledged []Pending, identity string) {
	c.Recalled = true
	seen := map[string]bool{}
	for _, p := range acknowledged {
		seen[p.ID] = true
		p.Seq, p.Held, p.Again = 0, nil, true
		c.Pending = append(c.Pending, p)
	}
	for _, p := range pending {
		switch {
		case seen[p.ID]:
			continue
		case p.Again || p.Seq > 0:
			p.Seq, p.Held, p.Again = 0, nil, true
		default:
			p.Replica, p.Held = identity, nil
		}
		c.Pending = append(c.Pending, p)
	}
}

// Show applies pending entries on top of base documents. An entry that is held, or does not fit, or is in a document's base
// already, changes nothing.
func Show(base map[ledger.Ref]ledger.Doc, pending []Pending) ledger.Docs {
	docs := ledger.Docs{}
	for ref, d := range base {
		docs[ref] = d.Body
	}
	for _, p := range pending {
		if p.Held != nil {
			continue
		}
		changed, _, err := ledger.Apply(docs, p.Entry)
		if err != nil {
			continue
		}
		for ref, b := range changed {
			if p.Seq == 0 || base[ref].Rev < p.Seq {
				docs[ref] = b
			}
		}
	}
	return docs
}

func keys(e ledger.Entry) []ledger.Ref {
	f, err := ledger.Open(e)
	if err != nil {
		return nil
	}
	return f.Keys()
}

func unique(refs []ledger.Ref) []ledger.Ref {
	seen := map[ledger.Ref]bool{}
	return slices.DeleteFunc(refs, func(r ledger.Ref) bool {
		defer func() { seen[r] = true }()
		return seen[r]
	})
}
