// Package rights tests who may record what, by which way in. Its matrix is generated from the tables of kinds and of document types:
// every kind, every type and field of a record, each role, and each way: at the office, by sync, at a terminal, by deciding on what is
// held, in a file of unsent work. docs/rights.md is the same matrix for people to read.
package rights

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"math"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/stock"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/files"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
	"iter.example/iter/server/unsent"
)

var update = flag.Bool("update", false, "write docs/rights.md anew")

const page = "../../docs/rights.md"

// actors are who tries: ann has the visit, the van and the records that the entries are about, ben is a technician who has not, and the
// others have one role each.
var actors = []string{"ann", "ben", "terminal", "dispatcher", "reviewer", "stores", "administrator"}

var ctx = context.Background()

// firm is the test company with somebody for each role.
type firm struct {
	t      *testing.T
	store  *store.Store
	files  *files.Dir
	people map[string]syncing.Device
	makers map[string]*ledgertest.Maker
	badges map[string]string
	now    time.Time
}

func TestMain(m *testing.M) {
	accounts.HashCheaply()
	os.Exit(m.Run())
}

func newFirm(t *testing.T) *firm {
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	f := &firm{t: t, store: s, people: map[string]syncing.Device{}, makers: map[string]*ledgertest.Maker{}, badges: map[string]string{},
		now: ledgertest.Start.Add(time.Minute)}
	f.files, err = files.Open(s)
	require.NoError(t, err)
	m := ledgertest.NewMaker("office", 1)
	entries := append(m.Company(), m.Entry("office", "record.created", "place", "yard", stock.Place{Name: "Yard", Kind: "store"}))
	for _, role := range actors[2:] {
		entries = append(entries, m.Entry("office", "record.created", "person", role,
			records.Person{Name: role, Roles: []records.Role{records.Role(role)}}))
	}
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		for _, e := range entries {
			_, err := tx.Record(e, e.At)
			require.NoError(t, err)
		}
		return nil
	}))
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		badges, err := accounts.Issue(tx)
		require.NoError(t, err)
		for _, b := range badges {
			f.badges[b.Person] = b.Code
		}
		// Ann's device holds a record of each type that technicians correct.
		for _, row := range ledger.Types() {
			require.NoError(t, tx.PutPacked("device-ann", 1, map[ledger.Ref]int64{{Type: row.Name, ID: "X1"}: 1}))
		}
		for i, who := range actors {
			d := syncing.Device{PersonID: who}
			_, err := tx.Load("person", who, &d.Person)
			require.NoError(t, err)
			f.people[who], f.makers[who] = d, ledgertest.NewMaker("device-"+who, int64(i+2))
			require.NoError(t, tx.PutDevice(store.Device{Replica: "device-" + who, Person: who, Contact: f.now}))
		}
		return nil
	}))
	return f
}

// cell is a way for somebody to record something.
type cell struct {
	what string // kind, with the type and the field of a record
	who  string
	way  string
	want bool
	try  func(e ledger.Entry) *msg.Code // what is in the way; nil when nothing is
	make func(m *ledgertest.Maker, actor string) ledger.Entry
}

// refused tells whether a code says that somebody may not. Others say that an entry does not fit, which is not about rights.
func refused(c *msg.Code) bool {
	return c != nil && (strings.HasPrefix(c.Code, "scope.") || slices.Contains([]string{"role.missing", "held.right", "held.foreign"},
		c.Code))
}

func has(roles []records.Role, who string) bool {
	return slices.Contains(roles, records.Role(who)) || (who == "administrator" && len(roles) > 0)
}

var judges = []records.Role{records.Dispatcher, records.Reviewer}

// expect says from the tables whether somebody may.
func expect(row ledger.KindRow, office []records.Role, field ledger.FieldRow, everybodys bool, who, way string) bool {
	technician := who == "ann" || who == "ben"
	byDevice := row.Field && technician && (who == "ann" || everybodys) || field.Corrected && who == "ann" || field.Met && technician
	switch way {
	case "office":
		return has(office, who)
	case "sync":
		return row.Name == "flag.seen" || byDevice || (!row.Field && has(office, who))
	case "file":
		return row.Name == "flag.seen" || byDevice
	case "terminal":
		if who == "terminal" {
			return row.Name == "flag.seen"
		}
		return row.Terminal && technician && (who == "ann" || everybodys)
	case "telephone":
		return row.Phoned && has(judges, who)
	case "held":
		return has(office, who) || (len(row.Office) == 0 && has(judges, who))
	}
	panic(way)
}

// everybodys are the facts from the field that need no visit of one's own: one's own hours and notices, work that
// somebody found, and whoever joins in.
func everybodys(e ledger.Entry) bool {
	return e.Subject.Type == "timecard" || slices.Contains([]string{"work.found", "flag.seen", "crew.joined", "knowhow.sent"}, e.Kind)
}

func (f *firm) cells() []cell {
	tries := map[string]func(who string) func(ledger.Entry) *msg.Code{
		"office": f.atOffice, "sync": f.bySync, "terminal": f.atTerminal, "held": f.onHeld, "file": f.inFile,
		"telephone": f.byTelephone,
	}
	var out []cell
	add := func(row ledger.KindRow, what string, office []records.Role, field ledger.FieldRow,
		make func(*ledgertest.Maker, string) ledger.Entry) {
		for _, who := range actors {
			for way, try := range tries {
				c := cell{what: what, who: who, way: way, make: make, try: try(who)}
				c.want = expect(row, office, field, everybodys(make(f.makers[who], who)), who, way)
				out = append(out, c)
			}
		}
	}
	for _, row := range ledger.KindRows() {
		switch row.Name {
		case "record.created":
			for _, typ := range ledger.Types() {
				if typ.Record {
					add(row, row.Name+" "+typ.Name, typ.Create, ledger.FieldRow{}, func(m *ledgertest.Maker, actor string) ledger.Entry {
						e, ok := m.SampleRecord(typ.Name, actor)
						require.True(f.t, ok, "no sample of a %s", typ.Name)
						return e
					})
				}
			}
		case "record.amended":
			for _, typ := range ledger.Types() {
				for _, field := range typ.Fields {
					add(row, row.Name+" "+typ.Name+"."+field.Name, field.Amend, field,
						func(m *ledgertest.Maker, actor string) ledger.Entry {
							return m.SampleAmendment(typ.Name, "X1", field.Name, actor)
						})
				}
			}
		default:
			add(row, row.Name, row.Office, ledger.FieldRow{}, func(m *ledgertest.Maker, actor string) ledger.Entry {
				e, ok := m.Sample(row.Name, actor)
				require.True(f.t, ok, "no sample of %s", row.Name)
				if e.Kind == "crew.joined" {
					e.Subject.ID = "V9" // that there is not: whoever joins in on a visit may do what others on it may
				}
				return e
			})
		}
	}
	return out
}

func (f *firm) atOffice(who string) func(ledger.Entry) *msg.Code {
	return func(e ledger.Entry) *msg.Code {
		_, err := office.Record(ctx, f.store, f.people[who], office.Batch{Seen: math.MaxInt64,
			Entries: []office.Command{{ID: e.ID, Kind: e.Kind, Subject: e.Subject, Body: e.Body}}}, f.now)
		return msg.From(err)
	}
}

// byTelephone has somebody at the office write down what ann tells.
func (f *firm) byTelephone(who string) func(ledger.Entry) *msg.Code {
	return func(e ledger.Entry) *msg.Code {
		_, err := office.Record(ctx, f.store, f.people[who], office.Batch{Seen: math.MaxInt64,
			Entries: []office.Command{{ID: e.ID, Kind: e.Kind, Subject: e.Subject, Body: e.Body, Phoned: &office.Phoned{Person: "ann", At: e.At}}}},
			f.now)
		return msg.From(err)
	}
}

func (f *firm) bySync(who string) func(ledger.Entry) *msg.Code {
	return func(e ledger.Entry) *msg.Code { return f.sync(who, e) }
}

// sync sends an entry from somebody's device.
func (f *firm) sync(device string, e ledger.Entry) *msg.Code {
	out, err := syncing.Sync(ctx, f.store, f.people[device], replica.Request{Replica: "device-" + device, Now: f.now,
		Entries: []ledger.Entry{e}}, f.now)
	require.NoError(f.t, err)
	require.Len(f.t, out.Receipts, 1, "%s %s", device, e.Kind)
	return out.Receipts[0].Why
}

// atTerminal records in somebody's name at a terminal, where they showed their badge; first as if they had not.
func (f *firm) atTerminal(who string) func(ledger.Entry) *msg.Code {
	return func(e ledger.Entry) *msg.Code {
		m := f.makers["terminal"]
		fresh := m.Entry(e.Actor, e.Kind, e.Subject.Type, e.Subject.ID, e.Body)
		if who != "terminal" {
			assert.True(f.t, refused(f.sync("terminal", fresh)), "%s for %s without proof", e.Kind, who)
		}
		fresh = m.Entry(e.Actor, e.Kind, e.Subject.Type, e.Subject.ID, e.Body)
		fresh.Proof, _ = ledger.Prove(fresh, f.badges[who], fresh.At)
		return f.sync("terminal", fresh)
	}
}

// onHeld has somebody decide on an entry of ann's that is held.
func (f *firm) onHeld(who string) func(ledger.Entry) *msg.Code {
	return func(e ledger.Entry) *msg.Code {
		e.Actor, e.Replica = "ann", "device-ann"
		if e.Subject.Type == "timecard" {
			e.Subject = ledger.TimecardRef("ann", e.At)
		}
		var h store.HeldEntry
		require.NoError(f.t, f.store.Write(ctx, func(tx *store.Tx) error {
			if err := tx.Hold(e, "ann", msg.New("held"), store.Arrival{At: f.now}); err != nil {
				return err
			}
			all, err := tx.HeldByEntry(e.ID)
			h = all[0]
			return err
		}))
		err := f.store.Write(ctx, func(tx *store.Tx) error { return syncing.Decide(tx, f.people[who], h.ID, syncing.TakeOn, f.now) })
		var seen syncing.Outlook
		require.NoError(f.t, f.store.Read(ctx, func(tx *store.Tx) (err error) {
			seen, err = syncing.LookAhead(tx, f.people[who], h)
			return err
		}))
		if code := msg.From(err); code == nil || code.Code != "entry.id_reused" {
			assert.Equal(f.t, refused(code), refused(seen.Why), "what the screen says of %s for %s", e.Kind, who)
		}
		return msg.From(err)
	}
}

// inFile has an administrator bring an entry in a file of unsent work.
func (f *firm) inFile(who string) func(ledger.Entry) *msg.Code {
	return func(e ledger.Entry) *msg.Code {
		var b bytes.Buffer
		w := json.NewEncoder(&b)
		require.NoError(f.t, w.Encode(map[string]any{"iter": "unsent", "v": 1, "person": who, "replica": "device-" + who, "saved": f.now}))
		require.NoError(f.t, w.Encode(map[string]any{"entry": e}))
		_, err := unsent.Read(ctx, f.store, f.files, "administrator", &b, f.now)
		require.NoError(f.t, err)
		var why *msg.Code
		require.NoError(f.t, f.store.Read(ctx, func(tx *store.Tx) error {
			all, err := tx.HeldByEntry(e.ID)
			if len(all) > 0 {
				why = &all[0].Why
				assert.Equal(f.t, "administrator", all[0].Brought)
			}
			return err
		}))
		return why
	}
}

func TestRights(t *testing.T) {
	f := newFirm(t)
	cells := f.cells()
	for _, c := range cells {
		_, err := f.store.Sessions().Exec("DELETE FROM held") // there are more than may wait at once
		require.NoError(t, err)
		e := c.make(f.makers[c.who], c.who)
		why := c.try(e)
		assert.Equal(t, c.want, !refused(why), "%s, %s, %s: %v", c.what, c.who, c.way, why)
	}
	t.Logf("%d cells: %d kinds, %d types, %d who, 6 ways", len(cells), len(ledger.Kinds()), len(ledger.Types()), len(actors))
	text := document()
	if *update {
		require.NoError(t, os.WriteFile(page, []byte(text), 0o644))
	}
	have, err := os.ReadFile(page)
	require.NoError(t, err)
	assert.Equal(t, string(have), text, "docs/rights.md is stale: go test ./server/rights -update, and read what changed")
}

// document writes the tables for people.
func document() string {
	var b strings.Builder
	b.WriteString(`# Who may record what

Written by a test (` + "`go test ./server/rights -update`" + `), from the tables in core/ledger; the test tries each of it, by every way in.
An administrator has all roles but the technician's and the terminal's.

- *Office*: by a command at the office, and by sync when the field does not record it. Whoever may record a thing decides on it when it is
  held; on what only the field records, dispatcher and reviewer do.
- *Field*: by a technician's own device, by sync or in a file: on visits that are or were theirs, on their own hours, out of their own van.
- *Terminal*: at a shared terminal, with proof, minutes old, that the person identified themselves.
- *Telephone*: written down by dispatcher or reviewer for a technician who tells it, on visits that are or were theirs.

| kind | office | field | terminal | telephone |
| --- | --- | --- | --- | --- |
`)
	yes := map[bool]string{true: "yes"}
	for _, k := range ledger.KindRows() {
		who := names(k.Office)
		if k.Name == "record.created" || k.Name == "record.amended" {
			who = "by type, below"
		}
		fmt.Fprintf(&b, "| %s | %s | %s | %s | %s |\n", k.Name, who, yes[k.Field], yes[k.Terminal], yes[k.Phoned])
	}
	b.WriteString("\n## Records, by type and field\n\nTypes that are not here are made by other entries alone. " +
		"*Corrected*: by a technician whose device holds the record, too; *of any record*: whether it does or not.\n\n" +
		"| type | created by | fields | amended by | corrected |\n| --- | --- | --- | --- | --- |\n")
	for _, typ := range ledger.Types() {
		if !typ.Record {
			continue
		}
		groups := map[string][]string{}
		var order []string
		for _, field := range typ.Fields {
			key := names(field.Amend) + "|" + yes[field.Corrected]
			if field.Met {
				key += ", of any record"
			}
			if groups[key] == nil {
				order = append(order, key)
			}
			groups[key] = append(groups[key], field.Name)
		}
		for _, key := range order {
			amend, corrected, _ := strings.Cut(key, "|")
			fmt.Fprintf(&b, "| %s | %s | %s | %s | %s |\n", typ.Name, names(typ.Create), strings.Join(groups[key], ", "), amend, corrected)
		}
	}
	return b.String()
}

func names(roles []records.Role) string {
	var out []string
	for _, r := range roles {
		out = append(out, string(r))
	}
	if len(out) == 0 {
		return "nobody"
	}
	return strings.Join(out, ", ")
}
