package ledger_test

import (
	"encoding/json"
	"fmt"
	"time"

	"iter.example/iter/core/ledger"
)

// An entry is opened, which says whether it is well formed; Keys says what to load; Apply gives what changed.
func ExampleFact_Apply() {
	e := ledger.Entry{
		ID: "01KKB59BR0ABYZR1S1G9JMY5HZ", Kind: "note.written", V: 1, At: time.Date(2026, 3, 10, 9, 0, 0, 0, time.UTC), Actor: "ann",
		Replica: "phone", N: 1,
		Subject: ledger.Ref{Type: "visit", ID: "V1"}, Body: json.RawMessage(`{"text":"Seal weeps"}`),
	}
	fact, err := ledger.Open(e)
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println("needs", fact.Keys())
	docs := ledger.Docs{{Type: "visit", ID: "V1"}: json.RawMessage(`{"technician":"ben"}`)}
	changed, flags, err := fact.Apply(docs)
	fmt.Println("changes", len(changed), "document; error", err)
	fmt.Println("flags", flags[0].Code.Code, "since it is ben's visit")
	// Output:
	// needs [visit/V1]
	// changes 1 document; error <nil>
	// flags visit.not_theirs since it is ben's visit
}

func ExampleOpen() {
	_, err := ledger.Open(ledger.Entry{Kind: "visit.vanished"})
	fmt.Println(err)
	// Output: entry.kind kind=visit.vanished
}

func ExampleTimely() {
	now := time.Date(2026, 3, 10, 9, 0, 0, 0, time.UTC)
	for _, off := range []time.Duration{-20 * 24 * time.Hour, time.Hour, 24 * time.Hour} {
		hold, flag := ledger.Timely(now.Add(off), now)
		fmt.Println(off, "held:", hold != nil, "flagged:", flag != nil)
	}
	// Output:
	// -480h0m0s held: false flagged: false
	// 1h0m0s held: false flagged: true
	// 24h0m0s held: true flagged: false
}
