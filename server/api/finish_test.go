package api_test

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"io"
	"net/http"
	"testing"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/report"
	"iter.example/iter/core/report/printing"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/office"
	"iter.example/iter/server/reports"
	"iter.example/iter/server/store"
)

// phone is ann's, which sends what she records at once.
type phone struct {
	*client
	maker *ledgertest.Maker
	n     int64
}

func (p *program) phone() *phone {
	return &phone{client: p.client("ann"), maker: ledgertest.NewMaker("P1", 7)}
}

func (p *phone) records(t *testing.T, kind, typ, id string, body any) ledger.Entry {
	p.n++
	e := p.maker.Entry("ann", kind, typ, id, body)
	e.At, e.N = p.p.now, p.n
	p.maker.Wait(time.Second)
	p.p.now = p.p.now.Add(time.Second)
	out := read[replica.Response](t, p.post("/api/sync", replica.Request{Replica: "P1", Cursor: "", Now: p.p.now,
		Entries: []ledger.Entry{e}}))
	require.Equal(t, replica.Taken, out.Receipts[0].Verdict, "%s: %v", kind, out.Receipts[0].Why)
	return e
}

func (p *phone) finishes(t *testing.T, body ledger.Step) {
	p.records(t, "visit.arrived", "visit", "V1", ledger.Step{})
	p.p.now = p.p.now.Add(30 * time.Minute)
	p.records(t, "visit.finished", "visit", "V1", body)
}

// Finished visits come with what to look at first; the office asks, is answered, and approves.
func TestReviewOfAFinishedVisit(t *testing.T) {
	p := start(t)
	desk, ann := p.client("a-reviewer"), p.phone()
	ann.finishes(t, ledger.Step{Outcome: work.Complete})
	line := func() api.FinishedLine {
		list := read[[]api.FinishedLine](t, desk.get("/api/office/finished"))
		require.Len(t, list, 1)
		return list[0]
	}
	kinds := func(list []view.Exception) (out []view.ExceptionKind) {
		for _, e := range list {
			out = append(out, e.Kind)
		}
		return out
	}
	assert.Equal(t, []view.ExceptionKind{view.Unsigned, view.Lacks}, kinds(line().Exceptions))
	unsigned := read[[]api.UnsignedLine](t, desk.get("/api/office/unsigned"))
	require.Len(t, unsigned, 1)
	assert.Equal(t, "4127", unsigned[0].Number)

	v := read[api.VisitPage](t, desk.get("/api/office/visits/V1")).View
	ann.records(t, "signoff.captured", "visit", "V1", ledger.Signed{Name: "Tam Hale", Role: "Owner",
		Strokes: signoff.Strokes{{{1, 1}, {90, 40}, {200, 10}}}, Summary: v.Summary, Digest: v.Digest})
	assert.Empty(t, read[[]api.UnsignedLine](t, desk.get("/api/office/unsigned")))
	ann.records(t, "part.used", "visit", "V1", ledger.Use{Part: "P2", Place: "van-ann", Quantity: num(2)})
	assert.Equal(t, []view.ExceptionKind{view.ChangedSinceSigned, view.BelowZero, view.Lacks}, kinds(line().Exceptions),
		"the most pressing first")
	page := read[api.VisitPage](t, desk.get("/api/office/visits/V1"))
	require.Len(t, page.View.Signed[0].Changes, 1)
	assert.Equal(t, signoff.Change{Part: signoff.PartParts, Is: &signoff.Line{Name: "O-ring EPDM 72", Value: "2", Unit: "each",
		Price: ""}}, page.View.Signed[0].Changes[0])

	require.Equal(t, 200, desk.does("visit.questioned", "visit", "V1", ledger.Questioned{Text: "Why two?"}).StatusCode)
	assert.Equal(t, "visit.asked", problem(t, desk.does("visit.questioned", "visit", "V1", ledger.Questioned{Text: "And?"}), 409))
	assert.True(t, line().Asked)
	q := read[api.VisitPage](t, desk.get("/api/office/visits/V1")).View.Visit.Questions[0]
	ann.records(t, "question.answered", "visit", "V1", ledger.QuestionAnswered{Question: q.Entry, Text: "One was torn"})
	assert.True(t, line().Answered)
	require.Equal(t, 200, desk.does("visit.reviewed", "visit", "V1", ledger.Nothing{}).StatusCode)
	assert.Empty(t, read[[]api.FinishedLine](t, desk.get("/api/office/finished")))
}

// A return puts the work back for planning with what the next visit needs, until somebody plans it.
func TestAReturnIsPlannedAgain(t *testing.T) {
	p := start(t)
	desk, ann := p.client("a-dispatcher"), p.phone()
	ann.finishes(t, ledger.Step{Outcome: work.ReturnNeeded, Reason: "customer", Order: "W1",
		Needed: &work.Needed{Needs: []work.Need{{Part: "P1", Quantity: num(2)}}, Skills: []string{"electrical"}, Minutes: 45,
			Note: "Long ladder"}})
	board := read[api.Board](t, desk.get("/api/office/board"))
	require.Len(t, board.Unplaced, 1)
	o := board.Unplaced[0]
	assert.Equal(t, []any{true, work.ReturnNeeded, "customer", "Long ladder", 45, []string{"electrical"}, "V1"},
		[]any{o.Back, o.Outcome, o.Reason, o.Note, o.Minutes, o.Skills, o.Visit})
	assert.Equal(t, "Mechanical seal 38 mm", o.Needs[0].Name)
	assert.Equal(t, work.Back, read[api.VisitPage](t, desk.get("/api/office/visits/V1")).View.State)

	require.Equal(t, 200, desk.does("visit.planned", "visit", "V2", ledger.Plan{Order: "W1", Technician: "ben",
		Start: p.now.Add(24 * time.Hour), Minutes: 45}).StatusCode)
	assert.Empty(t, read[api.Board](t, desk.get("/api/office/board")).Unplaced)
}

func TestConversations(t *testing.T) {
	p := start(t)
	desk, ann := p.client("a-dispatcher"), p.phone()
	ann.records(t, "talk.said", "talk", "W1", ledger.TalkSaid{Text: "Gate is locked", Visit: "V1"})
	list := read[[]api.TalkLine](t, desk.get("/api/office/talks"))
	require.Len(t, list, 1)
	assert.Equal(t, []any{1, "Ann Vane", "4127"}, []any{list[0].Unread, list[0].By, list[0].Order.Number})
	assert.Equal(t, 1, read[api.Board](t, desk.get("/api/office/board")).Unread)
	talk := read[api.TalkPage](t, desk.get("/api/office/talks/W1"))
	require.Equal(t, 200, desk.does("talk.read", "talk", "W1", ledger.TalkRead{Entry: talk.Talk.Said[0].Entry, Office: true}).StatusCode)
	require.Equal(t, 200, desk.does("talk.said", "talk", "W1", ledger.TalkSaid{Text: "Ring first", Office: true}).StatusCode)
	assert.Zero(t, read[api.TalkPage](t, desk.get("/api/office/talks/W1")).Unread)
	assert.Empty(t, read[api.TalkPage](t, desk.get("/api/office/talks/nothing")).Talk.Said)
}

func TestRulesOfHowVisitsEnd(t *testing.T) {
	p := start(t)
	desk := p.client("a-administrator")
	rules := read[api.EndRules](t, desk.get("/api/office/endrules"))
	assert.Len(t, rules.Outcomes, 4)
	assert.Equal(t, work.Asked, rules.Duties[work.CheckTasks])
	assert.Equal(t, work.Off, rules.Duties[work.CheckAfter])
	patch := map[string]any{"ready": []work.Requirement{{Check: work.CheckTasks, Duty: work.Off},
		{Check: work.CheckAfter, Duty: work.Required}}, "outcomes": []work.OutcomeRule{{ID: work.Complete, Closes: true}}}
	change := func(to map[string]any) *http.Response {
		return desk.does("settings.changed", "settings", "visits", ledgertest.Changed("visits", to))
	}
	require.Equal(t, 200, change(patch).StatusCode)
	rules = read[api.EndRules](t, desk.get("/api/office/endrules"))
	assert.Equal(t, []any{work.Off, work.Required, 1}, []any{rules.Duties[work.CheckTasks], rules.Duties[work.CheckAfter],
		len(rules.Outcomes)})
	// Whoever changes rules that are no longer as they saw them is told, and may press again.
	day, wanted := ledgertest.Start.Format(time.DateOnly), []records.Choice{{ID: "part", Text: "A part is needed"}}
	press := func(theirs any) *http.Response {
		body, err := json.Marshal(ledgertest.Changed("visits", map[string]any{"returns": wanted}))
		require.NoError(t, err)
		base, err := json.Marshal(map[string]any{day: map[string]any{"visits": map[string]any{"returns": theirs}}})
		require.NoError(t, err)
		return desk.command(office.Command{ID: ulid.Make().String(), Kind: "settings.changed",
			Subject: ledger.Ref{Type: "settings", ID: "visits"}, Body: body, Base: base})
	}
	require.Equal(t, 200, change(map[string]any{"returns": []records.Choice{{ID: "time", Text: "Time"}}}).StatusCode)
	res := press(nil)
	require.Equal(t, http.StatusConflict, res.StatusCode)
	var refused api.Conflict
	require.NoError(t, json.NewDecoder(res.Body).Decode(&refused))
	require.Len(t, refused.Fields, 1)
	assert.Equal(t, day+".visits.returns", refused.Fields[0].Field, "where it stands in the base")
	require.Equal(t, 200, press(refused.Fields[0].Theirs).StatusCode)
	wrong := map[string]any{"outcomes": []work.OutcomeRule{{ID: "won"}}}
	assert.Equal(t, "settings.outcome", problem(t, change(wrong), 409))
}

// A report that the phone says it made is printed at the office to the same bytes, goes out with its message once its photo is here, and
// can be checked by anyone.
func TestAReportIsPrintedSentAndChecked(t *testing.T) {
	p := start(t)
	desk, ann, anyone := p.client("a-reviewer"), p.phone(), p.client("")
	raw, hash := photo(t, 3)
	ann.records(t, "file.attached", "visit", "V1",
		ledger.File{FileRef: work.FileRef{Hash: hash, Name: "seal.jpg", Type: "image/jpeg", Size: int64(len(raw))}, Caption: "Seal"})
	ann.finishes(t, ledger.Step{Outcome: work.Complete})

	// What the phone would print: the core gives what it says, and the printer is the same code.
	docs := ledger.Docs{}
	wish := view.Wish{By: "Ann Vane", CheckAt: p.URL + "/check/", Words: map[string]string{"complete": "Complete"}}
	r, wanted, err := view.ReportOf("V1", docs, p.now, wish)
	for ; r == nil; r, wanted, err = view.ReportOf("V1", docs, p.now, wish) {
		require.NoError(t, err)
		require.NoError(t, p.store.Read(t.Context(), func(tx *store.Tx) error {
			more, err := tx.Docs(wanted)
			for ref, b := range more {
				docs[ref] = b
			}
			return err
		}))
	}
	require.Len(t, r.Photos, 1)
	digest, err := r.Digest()
	require.NoError(t, err)
	pdf := printed(t, *r, map[string][]byte{hash: raw})
	sum := sha256.Sum256(pdf)
	made := ann.records(t, "report.made", "visit", "V1", ledger.ReportMade{Report: *r, Digest: digest, PDF: hex.EncodeToString(sum[:]),
		Size: int64(len(pdf))})
	ann.records(t, "report.sent", "visit", "V1", ledger.ReportSent{Report: made.ID, To: "tam@example.net"})

	path := "/api/reports/" + made.ID + ".pdf"
	assert.Equal(t, "report.photo_awaited", problem(t, desk.get(path), 409), "its photo is still on the phone")
	assert.Empty(t, read[[]store.Sent](t, desk.get("/api/office/messages")))
	at := address(t, ann.begin(hash, len(raw)))
	require.Equal(t, http.StatusNoContent, ann.piece(at, 0, bytes.NewReader(raw)).StatusCode)
	res := desk.get(path)
	require.Equal(t, http.StatusOK, res.StatusCode)
	got, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.True(t, bytes.Equal(pdf, got), "the same bytes")
	assert.Equal(t, http.StatusOK, ann.get(path).StatusCode)
	assert.Equal(t, "report.unknown", problem(t, p.client("ben").get(path), 404), "it is none of his")
	assert.Equal(t, "report.unknown", problem(t, desk.get("/api/reports/nothing.pdf"), 404))
	require.Eventually(t, func() bool {
		sent := read[[]store.Sent](t, desk.get("/api/office/messages"))
		return len(sent) == 1 && sent[0].Report == made.ID && sent[0].Bytes == len(pdf)
	}, 40*time.Second, 50*time.Millisecond, "it goes out with the report")
	for _, about := range []string{"customer/C1", "site/S1"} {
		told := read[api.Timeline](t, desk.get("/api/office/timeline/"+about)).Lines
		require.Len(t, told, 1)
		assert.Equal(t, []any{"tam@example.net", "sent", made.ID}, []any{told[0].To, told[0].State, told[0].Report})
	}

	code := read[api.VisitPage](t, desk.get("/api/office/visits/V1")).View.Visit.Reports[0].Code
	known := read[reports.Checked](t, anyone.get("/api/check/"+code))
	assert.Equal(t, []any{true, false, "4127", "Ann Vane", 1}, []any{known.Known, known.Same, known.Order, known.By, known.Photos})
	assert.Equal(t, "report.code", problem(t, anyone.get("/api/check/what"), 409))
	assert.False(t, read[reports.Checked](t, anyone.get("/api/check/00000-00000-00000-00000")).Known)
	check := func(paper []byte) reports.Checked {
		return read[reports.Checked](t, anyone.send("POST", "/api/check", bytes.NewReader(paper)))
	}
	same := check(pdf)
	assert.True(t, same.Known && same.Same)
	forged := append([]byte{}, pdf...)
	forged[len(forged)/2] ^= 1
	tampered := check(forged)
	assert.True(t, tampered.Known)
	assert.False(t, tampered.Same, "one bit is enough")
	assert.False(t, check([]byte("no paper of ours")).Known)
	assert.Equal(t, "http.large", problem(t, anyone.send("POST", "/api/check", bytes.NewReader(make([]byte, 13<<20))), 413))

	// The office makes a later one, and the earlier says that there is.
	ask := api.ReportWish{ID: ulid.Make().String(), Wish: wish}
	later := read[api.ReportMade](t, desk.post("/api/office/reports/V1", ask))
	assert.Equal(t, later, read[api.ReportMade](t, desk.post("/api/office/reports/V1", ask)), "asked twice, made once")
	assert.Equal(t, http.StatusOK, desk.get("/api/reports/"+later.Entry+".pdf").StatusCode)
	assert.True(t, read[reports.Checked](t, anyone.get("/api/check/"+code)).Newer)
}

func printed(t *testing.T, r report.Report, pictures map[string][]byte) []byte {
	pdf, err := printing.Print(r, pictures)
	require.NoError(t, err)
	return pdf
}
