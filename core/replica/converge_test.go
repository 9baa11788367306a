package replica_test

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/work"
)

// office is the simplest server that can be: it takes everything, and tells everything that changed, page by page.
type office struct {
	docs ledger.Docs
	revs map[ledger.Ref]int64
	seqs map[string]int64
	seq  int64
}

func (o *office) answer(r replica.Request, page int) replica.Response {
	out := replica.Response{ServerTime: r.Now}
	for _, e := range r.Entries {
		if seq, ok := o.seqs[e.ID]; ok {
			out.Receipts = append(out.Receipts, replica.Receipt{ID: e.ID, Seq: seq, Verdict: replica.Duplicate})
			continue
		}
		o.seq++
		o.seqs[e.ID] = o.seq
		changed, _, err := ledger.Apply(o.docs, e)
		if err == nil {
			for ref, b := range changed {
				o.docs[ref], o.revs[ref] = b, o.seq
			}
		}
		out.Receipts = append(out.Receipts, replica.Receipt{ID: e.ID, Seq: o.seq, Verdict: replica.Taken})
	}
	var at int64
	_, _ = fmt.Sscan(r.Cursor, &at)
	// Oldest change first, all of one entry together.
	for rev := at + 1; rev <= o.seq; rev++ {
		for ref, have := range o.revs {
			if have == rev {
				out.Docs = append(out.Docs, ledger.Doc{Ref: ref, Rev: rev, Body: o.docs[ref]})
			}
		}
		out.Cursor = fmt.Sprint(rev)
		if len(out.Docs) >= page && rev < o.seq {
			out.More = true
			return out
		}
	}
	out.Cursor = fmt.Sprint(o.seq)
	return out
}

// phone is a device in memory.
type phone struct {
	state   replica.State
	base    map[ledger.Ref]ledger.Doc
	shown   ledger.Docs
	pending []replica.Pending
	ids     *ledgertest.Maker
}

func (p *phone) take(r replica.Response, now time.Time) {
	var base []ledger.Doc
	for _, ref := range replica.Touched(p.state, p.pending, r) {
		if d, ok := p.base[ref]; ok {
			base = append(base, d)
		}
	}
	c := replica.Receive(p.state, p.pending, nil, base, r, replica.Trip{Sent: now, Arrived: now}, "other")
	p.state, p.pending = c.State, c.Pending
	for _, d := range c.Base {
		p.base[d.Ref] = d
	}
	for _, d := range c.Shown {
		p.shown[d.Ref] = d.Body
	}
}

// Whatever answers are lost and however small the pages, nothing that was shown disappears while it is on its way, and in the
// end every device shows what the office has.
func TestDevicesConverge(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		setup := ledgertest.NewMaker("office", 1)
		o := &office{docs: ledger.Docs{}, revs: map[ledger.Ref]int64{}, seqs: map[string]int64{}}
		o.answer(replica.Request{Entries: setup.Company()}, 1000)
		now := ledgertest.Start.Add(time.Hour)
		phones := []*phone{}
		for i := range 2 {
			p := &phone{state: replica.State{Replica: fmt.Sprint("phone", i), Person: "ann"}, base: map[ledger.Ref]ledger.Doc{},
				shown: ledger.Docs{}, ids: ledgertest.NewMaker("x", int64(100+i))}
			p.take(o.answer(replica.Next(p.state, nil, now), 1000), now)
			phones = append(phones, p)
		}
		written := 0
		for range rapid.IntRange(1, 30).Draw(t, "steps") {
			p := phones[rapid.IntRange(0, 1).Draw(t, "phone")]
			now = now.Add(time.Minute)
			if rapid.Bool().Draw(t, "write") {
				written++
				s, e := replica.Stamp(p.state, replica.Draft{Kind: "note.written", Subject: visit,
					Body: []byte(fmt.Sprintf(`{"text":"n%d"}`, written))}, p.ids.Entry("", "", "", "", 0).ID, int64(written), now, labor.Zone{})
				changed, _, err := ledger.Apply(p.shown, e)
				require.NoError(t, err)
				for ref, b := range changed {
					p.shown[ref] = b
				}
				p.state, p.pending = s, append(p.pending, replica.Pending{Entry: e})
				continue
			}
			before := p.shown[visit]
			r := o.answer(replica.Next(p.state, p.pending, now), rapid.IntRange(1, 4).Draw(t, "page"))
			if rapid.Bool().Draw(t, "lost") {
				continue
			}
			p.take(r, now)
			require.GreaterOrEqual(t, countNotes(t, p.shown[visit]), countNotes(t, before), "a note that was shown disappeared")
		}
		for range 2 {
			for _, p := range phones {
				for more := true; more; {
					r := o.answer(replica.Next(p.state, p.pending, now), 1)
					p.take(r, now)
					more = r.More
				}
			}
		}
		require.Equal(t, written, countNotes(t, o.docs[visit]), "each note once")
		for _, p := range phones {
			require.Empty(t, p.pending)
			require.JSONEq(t, string(o.docs[visit]), string(p.shown[visit]))
		}
	})
}

func countNotes(t require.TestingT, body json.RawMessage) int {
	var v work.Visit
	require.NoError(t, json.Unmarshal(body, &v))
	return len(v.Notes)
}
