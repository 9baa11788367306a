package ledger

import (
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

func flagKinds() table {
	return table{
		"flag.seen": row[Seen]{whose: TheirNotices, check: checkSeen, keys: func(e Entry, _ Seen) []Ref { return []Ref{NoticesRef(e.Actor)} },
			apply: seen, final: "what was seen was seen", raise: []raise{policyFlags},
			marks: func(e Entry, b Seen) FlagMark { return FlagMark{Code: b.Code, Person: e.Actor} }}.kind(),
	}
}

func flagOfficeKinds() table {
	return table{
		"flag.settled": row[Settled]{office: append([]records.Role{records.Stores}, judges...), beside: true, check: checkSettled,
			apply: func(*tx, Entry, Settled) error { return nil }, final: "what was settled stays so", raise: []raise{policyFlags},
			marks: func(_ Entry, b Settled) FlagMark { return FlagMark{Code: b.Code, Person: b.Person, Settled: true} }}.kind(),
	}
}

// FlagMark are the flags of a code about the subject of an entry that it says are seen, or settled. Part, of those about a part, is which.
type FlagMark struct {
	Code    string
	Person  string // whose entries raised them; "" for anybody's
	Settled bool
	Part    string
}

// Seen is the body of flag.seen: the person has seen what the flag says about the subject.
type Seen struct {
	Code string `json:"code"`
}

// Settled is the body of flag.settled: nothing is left to do about what a person's entries raised on the subject.
type Settled struct {
	Code   string `json:"code"`
	Person string `json:"person"`
	Reason string `json:"reason,omitempty"`
}

// Notices are the flags that a person has not seen yet, as their devices hold them. The server makes the document; a device
// takes out what its person has seen.
type Notices struct {
	List []Notice `json:"list"`
}

// Notice is what a person's entries raised about one subject, however many they were.
type Notice struct {
	msg.Code
	Subject Ref       `json:"subject"`
	Person  string    `json:"person"` // whose entries they are
	Entry   string    `json:"entry"`  // the last
	At      time.Time `json:"at"`     // when it arrived
	Count   int       `json:"count"`
	About   string    `json:"about"` // the subject in words: a work order's number and site, or a name
}

// NoticesRef names a person's notices.
func NoticesRef(person string) Ref { return Ref{"notices", person} }

func checkSeen(b Seen) error { return records.CheckID(b.Code) }

func checkSettled(b Settled) error {
	if err := records.CheckID(b.Code); err != nil {
		return err
	}
	if err := records.CheckID(b.Person); err != nil {
		return err
	}
	return records.CheckText("reason", b.Reason, false, 500)
}

func seen(t *tx, e Entry, b Seen) error {
	ref := NoticesRef(e.Actor)
	var n Notices
	if ok, err := t.load(ref, &n); !ok {
		return err
	}
	left := Notices{List: []Notice{}}
	for _, x := range n.List {
		if x.Code.Code != b.Code || x.Subject != e.Subject {
			left.List = append(left.List, x)
		}
	}
	t.save(ref, left)
	return nil
}
