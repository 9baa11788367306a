package bridge_test

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"math/rand"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/area"
	"iter.example/iter/core/bridge"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/settings"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/sheet/sheettest"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

const sequences = 1000

// TestNativeAndWebAssemblyAgree runs random sequences of entries, the view of the visit after each, and an answer of the
// server, through both cores, and compares bytes.
func TestNativeAndWebAssemblyAgree(t *testing.T) {
	node, err := exec.LookPath("node")
	require.NoError(t, err, "Node runs the WebAssembly core in this test")
	dir := t.TempDir()
	wasm := filepath.Join(dir, "core.wasm")
	// as make does, so that it is not compiled anew
	build := exec.Command("go", "build", "-trimpath", "-ldflags=-s -w", "-o", wasm, "iter.example/iter/cmd/itercore")
	build.Env = append(os.Environ(), "GOOS=js", "GOARCH=wasm")
	out, err := build.CombinedOutput()
	require.NoError(t, err, string(out))

	var calls bytes.Buffer
	var want []string
	call := func(name string, in any) []byte {
		raw, err := json.Marshal(in)
		require.NoError(t, err)
		got := bridge.Call(name, raw)
		line, err := json.Marshal([]string{name, string(raw)})
		require.NoError(t, err)
		calls.Write(append(line, '\n'))
		want = append(want, string(got))
		return got
	}
	applied := 0
	for seed := range sequences {
		applied += sequence(t, int64(seed), call)
	}
	require.Greater(t, applied, sequences*4, "most entries fit")

	root, err := exec.Command("go", "env", "GOROOT").Output()
	require.NoError(t, err)
	cmd := exec.Command(node, filepath.Join("testdata", "run.mjs"), filepath.Join(strings.TrimSpace(string(root)), "lib", "wasm",
		"wasm_exec.js"), wasm)
	cmd.Stdin = &calls
	cmd.Stderr = os.Stderr
	raw, err := cmd.Output()
	require.NoError(t, err)
	lines := bufio.NewScanner(bytes.NewReader(raw))
	lines.Buffer(nil, 64<<20)
	n := 0
	for ; lines.Scan(); n++ {
		require.Less(t, n, len(want))
		require.Equal(t, want[n], lines.Text(), "call %d", n)
	}
	require.Equal(t, len(want), n)
	t.Logf("%d sequences, %d calls, %d entries applied, the same bytes", sequences, n, applied)
}

// inField are the kinds that a device records.
var inField = func() map[string]bool {
	out := map[string]bool{}
	for _, k := range ledger.KindRows() {
		out[k.Name] = k.Field || k.Name == "record.amended" // of those records whose types say so
	}
	return out
}()

func sequence(t *testing.T, seed int64, call func(string, any) []byte) (applied int) {
	r := rand.New(rand.NewSource(seed))
	m := ledgertest.NewMaker("R1", seed)
	docs := ledger.Docs{}
	entries := m.Company()
	for _, res := range ledgertest.Fold(docs, entries) {
		require.Empty(t, res.Error)
	}
	var pending []replica.Pending
	base := all(docs, 10)
	holder := bridge.Documents{Holder: seed + 1}
	steps := 5 + r.Intn(8)
	for step := range steps {
		e := m.Random(r, entries)
		entries = append(entries, e)
		changed, _, err := ledger.Apply(docs, e)
		if err == nil {
			applied++
		}
		if !inField[e.Kind] { // a device is told what it changed
			maps.Copy(docs, changed)
			for r, body := range changed {
				holder.Docs = append(holder.Docs, ledger.Doc{Ref: r, Body: body})
			}
			continue
		}
		pending = append(pending, replica.Pending{Entry: e})
		asking(docs, &holder, func() []ledger.Ref {
			var got bridge.Recorded
			require.NoError(t, json.Unmarshal(call("record", bridge.Record{Moment: bridge.Moment{Documents: holder, Now: e.At.UnixMilli(),
				Zone: labor.Zone{Shifts: []labor.Shift{{Offset: 3600}}}}, ID: e.ID, State: replica.State{Replica: "R1", Person: e.Actor},
				Draft: replica.Draft{Kind: e.Kind, Subject: e.Subject, Body: e.Body, Base: e.Base}}), &got))
			return got.Wanted
		})
		if err == nil {
			call("changed", bridge.Documents{Holder: holder.Holder})
		}
		maps.Copy(docs, changed)
		if step < steps-1 && seed%20 != 0 {
			continue
		}
		now := ledgertest.Start.Add(9 * time.Hour).UTC()
		var got bridge.Viewed
		asking(docs, &holder, func() []ledger.Ref {
			got = bridge.Viewed{}
			require.NoError(t, json.Unmarshal(call("visit", bridge.Visit{ID: "V1",
				Moment: bridge.Moment{Documents: holder, Now: now.UnixMilli()}}), &got))
			return got.Wanted
		})
		if seed%20 == 0 { // what the core holds as values is what it would read anew
			for _, r := range got.Read {
				if !docs.Has(r) {
					docs[r] = nil
				}
			}
			anew, _, err := view.Of("V1", docs, labor.Zone{}.In(now))
			require.NoError(t, err)
			want, err := json.Marshal(anew)
			require.NoError(t, err)
			have, err := json.Marshal(got.Visit)
			require.NoError(t, err)
			require.Equal(t, string(want), string(have), e.Kind)
		}
	}
	require.NotEmpty(t, pending, "seed %d", seed)
	call("show", bridge.Show{Docs: base, Pending: pending})
	var cards []labor.Timecard
	for _, person := range []string{"ann", "ben"} {
		var c labor.Timecard
		if b := docs[ledger.Ref{Type: "timecard", ID: person + "+2026-03-10"}]; b != nil {
			require.NoError(t, json.Unmarshal(b, &c))
			cards = append(cards, c)
		}
	}
	terms, err := json.Marshal(labor.Terms{Round: labor.Rounding{Increment: 5, On: "stamps"}, BreakAfter: 60, BreakMinutes: 7,
		OvertimeAfter: 90, WeekAfter: 300})
	require.NoError(t, err)
	pay := settings.Dated{}
	require.NoError(t, json.Unmarshal(fmt.Appendf(nil, `{"2026-01-01":%s}`, terms), &pay))
	for _, c := range cards {
		call("days", bridge.Days{Cards: []labor.Timecard{c}, Now: ledgertest.Start.Add(9 * time.Hour).UnixMilli(), Pay: pay})
	}
	stop := bridge.RouteStop{ID: "V1", Site: records.Site{Lat: 54.8 + r.Float64()/20, Lon: -9.2 + r.Float64()/20}}
	require.NoError(t, json.Unmarshal(docs[ledger.Ref{Type: "visit", ID: "V1"}], &stop.Visit))
	require.NoError(t, json.Unmarshal(docs[ledger.Ref{Type: "workorder", ID: "W1"}], &stop.Order))
	known := bridge.Moment{Documents: bridge.Documents{Docs: all(docs, 1)}, Now: ledgertest.Start.Add(9 * time.Hour).UnixMilli()}
	ids := make([]string, len(cards))
	for i, c := range cards {
		ids[i] = ledger.TimecardRef(c.Person, ledgertest.Start).ID
	}
	call("dock", bridge.Dock{Moment: known, ID: "V1", Person: "ann", Cards: ids, Sites: map[string]string{"V1": "S1"}})
	call("standings", bridge.Standings{Moment: known, Visits: []string{"V1"}, Cards: ids})
	if seed%20 == 0 {
		route := bridge.Route{Stops: []bridge.RouteStop{stop}, Start: &records.Point{Lat: 54.78, Lon: -9.13},
			Now: ledgertest.Start.UnixMilli()}
		call("route", route)
		call("order", route)
	}
	sh, given := sheettest.Random(r)
	raw, err := json.Marshal(sh)
	require.NoError(t, err)
	visit := work.Visit{Answers: map[string]map[string]sheet.Answer{sh.Ref(): given.Answers},
		Items: map[string][]sheet.Item{sh.Ref(): given.Items}}
	call("fill", bridge.Fill{Ref: sh.Ref(), Sheet: raw, Visit: visit, Around: view.Around{Order: work.Order{Asset: "A1"}}})
	call("begin", bridge.Fill{Ref: sh.Ref(), Sheet: raw, Visit: visit})
	size := func() decimal.Decimal { return decimal.New(r.Int63n(9000)+1, -2) }
	call("area", area.Area{Unit: []string{"m", "ft", "cm"}[r.Intn(3)],
		Shapes: []area.Shape{{Form: area.Circle, Sizes: []decimal.Decimal{size()}},
			{Form: area.Polygon, Sizes: []decimal.Decimal{size(), size(), size()}}}})
	call("outlines", area.Shape{Form: area.Polygon, Sizes: []decimal.Decimal{size(), size(), size(), size(), decimal.NewFromInt(80)},
		Angles: []bool{true}})
	call("judge", view.Judge{Point: reading.Point{ID: "p", Unit: "bar", Counter: r.Intn(2) == 0}, Text: size().String(),
		Unit: []string{"bar", "psi", "mWC"}[r.Intn(3)], Before: []view.Past{{Value: size().String()}}})
	call("receive", bridge.Receive{State: replica.State{Replica: "R1"}, Pending: pending, Base: base, Response: replica.Response{
		Receipts: []replica.Receipt{{ID: pending[0].ID, Seq: 20, Verdict: replica.Taken}}, Docs: all(docs, 21)[:1],
		More: r.Intn(2) == 0, ServerTime: ledgertest.Start}, Sent: 1000, Now: 2000, Took: 1000})
	return applied
}

// asking asks until no more documents are wanted, and tells those that are, be they there or not.
func asking(docs ledger.Docs, holder *bridge.Documents, ask func() []ledger.Ref) {
	for wanted := ask(); len(wanted) > 0; wanted = ask() {
		holder.Docs = nil
		for _, r := range wanted {
			holder.Docs = append(holder.Docs, ledger.Doc{Ref: r, Body: docs[r]})
		}
	}
	holder.Docs = nil
}

// all lists documents in a fixed order.
func all(docs ledger.Docs, rev int64) []ledger.Doc {
	var out []ledger.Doc
	for _, ref := range []ledger.Ref{{Type: "visit", ID: "V1"}, {Type: "visit", ID: "V2"}, {Type: "workorder", ID: "W1"},
		{Type: "customer", ID: "C1"}, {Type: "site", ID: "S1"}, {Type: "asset", ID: "A1"}, {Type: "measured", ID: "A1"},
		{Type: "substances", ID: "S1"},
		{Type: "sheet", ID: "pump@1"}, {Type: "part", ID: "P1"}, {Type: "part", ID: "P2"}, {Type: "person", ID: "ann"},
		{Type: "person", ID: "ben"}, {Type: "person", ID: "office"},
		{Type: "stock", ID: "van-ann"}, {Type: "stock", ID: "van-ben"}, {Type: "timecard", ID: "ann+2026-03-10"},
		{Type: "timecard", ID: "ben+2026-03-10"}} {
		if b, ok := docs[ref]; ok {
			out = append(out, ledger.Doc{Ref: ref, Rev: rev, Body: b})
		}
	}
	return out
}

func TestCallNeverPanics(t *testing.T) {
	for in, code := range map[string]string{
		"record {":   "core.unreadable",
		"nothing {}": "core.unknown",
		`record {"draft":{"kind":"visit.vanished"}}`:                        "entry.kind",
		`visit {"id":"V9","docs":[{"type":"visit","id":"V9","body":null}]}`: "record.unknown",
		`strokes [[[1,1]]]`: "signature.empty",
	} {
		name, arg, _ := strings.Cut(in, " ")
		var f bridge.Failure
		require.NoError(t, json.Unmarshal(bridge.Call(name, []byte(arg)), &f))
		require.NotNil(t, f.Error, in)
		assert.Equal(t, code, f.Error.Code, in)
	}
}

func FuzzCall(f *testing.F) {
	for _, n := range []string{"record", "changed", "show", "next", "touched", "receive", "visit", "dock", "standings", "days", "route",
		"order", "holds", "message", "judge", "answer", "strokes", "fill", "begin", "area", "outlines"} {
		f.Add(n, []byte(`{"entry":{"kind":"note.written","v":1},"docs":[{"type":"visit","id":"V1","body":{}}],"response":{},"pending":[{}]}`))
	}
	f.Fuzz(func(t *testing.T, name string, in []byte) {
		if out := bridge.Call(name, in); !json.Valid(out) || bytes.Contains(out, []byte("core.broken")) {
			t.Fatal(string(out))
		}
	})
}
