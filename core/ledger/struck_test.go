package ledger_test

import (
	"encoding/json"
	"maps"
	"math/rand"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

const hash = "9f86d081884c7d659a2feaa0c55ad015a3bf4f1b2b0b822cd15d6c15b0f00a08"

// What is recorded is struck out everywhere it counted, by whoever may, and restored as it was, whatever its kind.
func TestEveryKindIsStruckOutAndRestored(t *testing.T) {
	closed := func(m *ledgertest.Maker) []ledger.Entry {
		m.Wait(6 * time.Hour)
		return []ledger.Entry{m.Entry("office", "visit.closed", "visit", "V1",
			ledger.Closed{Outcome: work.Complete, End: ledgertest.Start.Add(150 * time.Minute), People: []string{"ann"}})}
	}
	before := map[string]func(*ledgertest.Maker) []ledger.Entry{
		"visit.closed": func(m *ledgertest.Maker) []ledger.Entry {
			return []ledger.Entry{m.Entry("ann", "visit.arrived", "visit", "V1", ledger.Step{})}
		},
		"visit.end_confirmed": func(m *ledgertest.Maker) []ledger.Entry {
			return append([]ledger.Entry{m.Entry("ann", "visit.arrived", "visit", "V1", ledger.Step{})}, closed(m)...)
		},
	}
	for _, row := range ledger.KindRows() {
		if !row.Struck {
			assert.NotEmpty(t, row.Final, "%s can't be struck out: why?", row.Name)
			continue
		}
		t.Run(row.Name, func(t *testing.T) {
			m, docs := company(t)
			actor := "ann"
			if row.Office != nil && !row.Field {
				actor = "office"
			}
			if set := before[row.Name]; set != nil {
				for _, e := range set(m) {
					require.Empty(t, take(t, docs, e).Error, e.Kind)
				}
			}
			e, _ := m.Sample(row.Name, actor)
			switch row.Name {
			case "visit.closed":
				e = closed(m)[0]
			case "time.corrected", "time.corrected_by_office":
				e = m.Entry(actor, row.Name, "timecard", ledger.TimecardRef("ann", e.At).ID,
					ledger.Corrected{Reason: "forgot",
						Pieces: []labor.Piece{{What: labor.What{Kind: labor.Break}, Start: e.At.Add(-time.Hour), End: e.At.Add(-time.Minute)}}})
			}
			require.Empty(t, take(t, docs, e).Error)
			stood := maps.Clone(docs)
			strike := ledgertest.Strike(docs, e)
			say := func(kind string, s ledger.Struck) string {
				m.Wait(time.Minute)
				return take(t, docs, m.Entry("office", kind, e.Subject.Type, e.Subject.ID, s)).Error
			}
			other, unknown := strike, strike
			other.Person = "ben"
			unknown.Entry = "01HZZZZZZZZZZZZZZZZZZZZZZZ"
			assert.Equal(t, "strike.not_yours", code(say("entry.struck_by_office", other)))
			assert.Equal(t, "strike.unknown", code(say("entry.struck_by_office", unknown)))
			for i := range strike.Touched {
				short := strike
				if short.Touched = slices.Delete(slices.Clone(strike.Touched), i, i+1); row.Name == "substance.moved" &&
					strike.Touched[i].Type == "workorder" {
					continue // the log is named all the same
				}
				assert.Equal(t, "strike.unknown", say("entry.struck_by_office", short), "without %s", strike.Touched[i])
			}
			assert.Equal(t, stood, docs, "nothing is half struck out")
			require.Empty(t, say("entry.struck_by_office", strike))
			once := unstruck(t, docs, e.Subject)
			assert.NotEqual(t, unstruck(t, stood, e.Subject), once)
			require.Empty(t, say("entry.struck_by_office", strike))
			assert.Equal(t, once, unstruck(t, docs, e.Subject), "twice is once")
			early := m.Entry("office", "entry.restored", e.Subject.Type, e.Subject.ID, strike)
			early.At = e.At
			require.Empty(t, take(t, docs, early).Error)
			assert.Equal(t, once, unstruck(t, docs, e.Subject), "what was restored before it was struck out is struck out")
			require.Empty(t, say("entry.restored", strike))
			assert.Equal(t, unstruck(t, stood, e.Subject), unstruck(t, docs, e.Subject))
			assert.Equal(t, "strike.final", code(say("entry.struck_by_office",
				ledger.Struck{Entry: e.ID, Kind: "talk.said", Person: actor})))
		})
	}
}

// unstruck are documents as they read but for when entries about one of them were struck out and restored.
func unstruck(t *testing.T, docs ledger.Docs, subject ledger.Ref) map[string]any {
	out := map[string]any{}
	for ref, raw := range docs {
		var doc map[string]any
		require.NoError(t, json.Unmarshal(raw, &doc))
		if ref == subject {
			delete(doc, "strikes")
		}
		out[ref.String()] = doc
	}
	return out
}

// code is that of an error.
func code(err string) string { return strings.Fields(err + " ")[0] }

// Before the review a person strikes out what is theirs. What they struck out before it, and the office hears of after it,
// stands and is flagged; after it, it is for the office.
func TestOwnStrikeOutsAroundTheReview(t *testing.T) {
	m, docs := company(t)
	note := m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "x"})
	m.Wait(time.Minute)
	body := ledgertest.Strike(docs, note)
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
	r = ledgertest.Fold(docs, []ledger.Entry{late, notMine, early, m.Entry("ann", "note.written", "visit", "V1",
		ledger.Note{Text: "late"})})
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
		{"code": "visit.not_theirs", "subject": e.Subject}, {"code": "stock.below_zero", "subject": e.Subject},
		{"code": "visit.not_theirs", "subject": ledger.Ref{Type: "visit", ID: "V2"}}}})
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
