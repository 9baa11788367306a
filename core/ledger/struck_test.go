package ledger_test

import (
	"encoding/json"
	"math/rand"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

const hash = "9f86d081884c7d659a2feaa0c55ad015a3bf4f1b2b0b822cd15d6c15b0f00a08"

// The office strikes out and restores what anybody recorded, and each counts or not everywhere it counted.
func TestTheOfficeStrikesAndRestores(t *testing.T) {
	m, docs := company(t)
	recorded := []ledger.Entry{
		m.Entry("ann", "visit.set_off", "visit", "V1", ledger.Step{}),
		m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "x"}),
		m.Entry("ann", "part.used", "visit", "V1", ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.NewFromInt(2)}),
		m.Entry("ann", "reading.taken", "visit", "V1", ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.NewFromInt(4), Unit: "bar"}),
		m.Entry("ann", "sheet.answered", "visit", "V1", ledger.Answered{Sheet: "pump@1", Question: "guard", Value: "yes"}),
		m.Entry("ann", "file.attached", "visit", "V1", ledger.File{FileRef: work.FileRef{Hash: hash, Name: "seal.jpg", Type: "image/jpeg", Size: 900}}),
	}
	for _, r := range ledgertest.Fold(docs, recorded) {
		require.Empty(t, r.Error)
	}
	before := map[ledger.Ref]string{}
	for ref, b := range docs {
		before[ref] = string(b)
	}
	body := func(e ledger.Entry) ledger.Struck {
		s := ledger.Struck{Entry: e.ID, At: e.At, Kind: e.Kind, Person: e.Actor, Reason: "wrong visit"}
		if e.Kind == "part.used" {
			s.Place = "van-ann"
		}
		return s
	}
	for _, e := range recorded {
		r := ledgertest.Fold(docs, []ledger.Entry{m.Entry("office", "entry.struck_by_office", "visit", "V1", body(e))})
		require.Empty(t, r[0].Error, e.Kind)
	}
	v := read[work.Visit](t, docs, "visit", "V1")
	assert.Equal(t, work.Sent, v.Stage)
	assert.Equal(t, []bool{true, true, true, true}, []bool{v.Notes[0].Struck, v.Parts[0].Struck, v.Readings[0].Struck, v.Files[0].Struck})
	assert.Equal(t, "yes", v.Answers["pump@1"]["guard"].Struck)
	assert.Empty(t, v.Answers["pump@1"]["guard"].Value)
	assert.Equal(t, "3", read[stock.Stock](t, docs, "stock", "van-ann").Lines["P1"].Balance.String())
	for _, e := range recorded {
		r := ledgertest.Fold(docs, []ledger.Entry{m.Entry("office", "entry.restored", "visit", "V1", body(e)), m.Entry("office", "entry.restored", "visit", "V1", body(e))})
		require.Empty(t, r[1].Error, "and twice changes nothing more")
	}
	for ref, b := range before {
		assert.JSONEq(t, b, string(docs[ref]), ref)
	}
	part := body(recorded[2])
	part.Place = ""
	assert.Equal(t, "strike.place", ledgertest.Fold(docs, []ledger.Entry{m.Entry("office", "entry.struck_by_office", "visit", "V1", part)})[0].Error)
}

// Before the review a person strikes out what is theirs. What they struck out before it, and the office hears of after it,
// stands and is flagged; after it, it is for the office.
func TestOwnStrikeOutsAroundTheReview(t *testing.T) {
	m, docs := company(t)
	note := m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "x"})
	m.Wait(time.Minute)
	body := ledger.Struck{Entry: note.ID, At: note.At, Kind: note.Kind, Person: "ann"}
	early := m.Entry("ann", "entry.struck", "visit", "V1", body)
	m.Wait(time.Minute)
	r := ledgertest.Fold(docs, []ledger.Entry{note,
		m.Entry("office", "visit.reviewed", "visit", "V1", ledger.Nothing{}),
		m.Entry("ann", "visit.finished", "visit", "V1", ledger.Step{Outcome: work.Complete}),
		m.Entry("office", "visit.reviewed", "visit", "V1", ledger.Nothing{}),
	})
	assert.Equal(t, "visit.not_over", r[1].Error)
	require.Empty(t, r[3].Error)
	m.Wait(time.Minute)
	late := m.Entry("ann", "entry.struck", "visit", "V1", body)
	notMine := m.Entry("ben", "entry.struck", "visit", "V1", body)
	notMine.At = early.At
	r = ledgertest.Fold(docs, []ledger.Entry{late, notMine, early, m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "late"})})
	assert.Equal(t, "strike.reviewed", r[0].Error)
	assert.Equal(t, "strike.not_yours", r[1].Error)
	require.Empty(t, r[2].Error)
	assert.Equal(t, "visit.reviewed_meanwhile", r[2].Flags[0].Code.Code)
	assert.Equal(t, "visit.reviewed_meanwhile", r[3].Flags[0].Code.Code)
}

// A phone that was not updated for a while sends strike-outs of version 1, which did not say whose entry they struck.
func TestAnEntryOfAnEarlierVersion(t *testing.T) {
	m, docs := company(t)
	note := m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "x"})
	old := m.Entry("ann", "entry.struck", "visit", "V1", map[string]any{"entry": note.ID, "at": note.At, "kind": note.Kind})
	old.V = 1
	kept := string(old.Body)
	r := ledgertest.Fold(docs, []ledger.Entry{note, old})
	require.Empty(t, r[1].Error)
	assert.True(t, read[work.Visit](t, docs, "visit", "V1").Notes[0].Struck)
	f, err := ledger.Open(old)
	require.NoError(t, err)
	assert.Equal(t, kept, string(f.Entry.Body), "the log keeps it as it was recorded")
	for _, body := range []string{`[]`, `null`, `7`, `{"person":[]}`, `{`} {
		old.Body = json.RawMessage(body)
		_, err := ledger.Open(old)
		assert.Error(t, err, body)
	}
}

func TestFiles(t *testing.T) {
	for code, f := range map[string]work.FileRef{
		"file.hash_unreadable": {Hash: "../../etc/passwd", Name: "x", Type: "image/jpeg", Size: 1},
		"file.type":            {Hash: hash, Name: "x", Type: "text/html", Size: 1},
		"file.size":            {Hash: hash, Name: "x", Type: "image/jpeg", Size: records.MaxFile + 1},
		"text.missing":         {Hash: hash, Name: "", Type: "image/jpeg", Size: 1},
	} {
		m, docs := company(t)
		r := ledgertest.Fold(docs, []ledger.Entry{m.Entry("ann", "file.attached", "visit", "V1", ledger.File{FileRef: f})})
		assert.Contains(t, r[0].Error, code)
	}
}

// A device takes out of its notices what its person has seen; at the server, which makes them, there is no such document.
func TestSeen(t *testing.T) {
	m, docs := company(t)
	e := m.Entry("ann", "flag.seen", "visit", "V1", ledger.Seen{Code: "visit.not_theirs"})
	changed, _, err := ledger.Apply(docs, e)
	require.NoError(t, err)
	assert.Empty(t, changed)
	raw, err := json.Marshal(map[string]any{"list": []map[string]any{
		{"code": "visit.not_theirs", "subject": e.Subject}, {"code": "stock.below_zero", "subject": e.Subject}, {"code": "visit.not_theirs", "subject": ledger.Ref{Type: "visit", ID: "V2"}}}})
	require.NoError(t, err)
	docs[ledger.NoticesRef("ann")] = raw
	changed, _, err = ledger.Apply(docs, e)
	require.NoError(t, err)
	assert.Len(t, read[ledger.Notices](t, changed, "notices", "ann").List, 2)
}

// Entries applied one after another to documents kept as values give the same as each applied to documents kept as text.
func TestMemoryIsTheSameAsText(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		seed := rapid.Int64().Draw(rt, "seed")
		m, docs := ledgertest.NewMaker("phone", seed), ledger.Docs{}
		r := rand.New(rand.NewSource(seed))
		entries := m.Company()
		for range rapid.IntRange(1, 60).Draw(rt, "entries") {
			entries = append(entries, m.Random(r, entries))
		}
		var mem ledger.Memory
		for i, res := range ledgertest.Fold(docs, entries) {
			f, err := ledger.Open(entries[i])
			if err == nil {
				_, _, err = mem.Apply(f)
			}
			require.Equal(rt, res.Error == "", err == nil)
		}
		for ref, want := range docs {
			got, err := mem.Text(ref)
			require.NoError(rt, err)
			require.Equal(rt, string(want), string(got), ref)
		}
	})
}
