// Package office takes the office's commands: entries that come in batches, all or nothing, that are recorded once however often they
// are sent, and that are refused when somebody else changed meanwhile what they are about.
package office

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"slices"
	"strconv"
	"strings"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

// Replica is where the office's entries are recorded.
const Replica = syncing.OfficeReplica

// MaxBatch is the most commands in a batch.
const MaxBatch = 500

// Command is an entry from the office. Its id is made at the first press, so that sending it again does nothing more.
type Command struct {
	ID      string          `json:"id"` // ULID
	Kind    string          `json:"kind"`
	Subject ledger.Ref      `json:"subject"`
	Body    json.RawMessage `json:"body"`
	Base    json.RawMessage `json:"base,omitempty"` // of an amendment: the values that it replaces
	// Phoned is of what somebody in the field did, and tells the office by telephone; nil of the office's own commands.
	Phoned *Phoned `json:"phoned,omitempty"`
}

// Phoned says who did something and when, as they tell it.
type Phoned struct {
	Person string    `json:"person"`
	At     time.Time `json:"at"`
}

// Batch is commands that are recorded together or not at all.
type Batch struct {
	Entries []Command `json:"entries"`
	// Seen is the place in the log up to which whoever pressed had seen things: the revision of all that the commands were made from.
	Seen int64 `json:"seen"`
}

// ErrRole says that whoever sent a command has none of the roles that it takes.
func ErrRole(roles []records.Role) *msg.Code {
	names := make([]string, len(roles))
	for i, r := range roles {
		names[i] = string(r)
	}
	return msg.New("role.missing", "roles", strings.Join(names, ","))
}

// Conflict says that what a command is about changed after whoever sent it had seen it. Nothing was recorded.
type Conflict struct {
	Subject ledger.Ref
	Seq     int64          // the place in the log up to which this tells: what is sent with it was made knowing this
	Since   []store.Logged // what was recorded about it meanwhile, in order
	Fields  []Field        // of an amendment: the fields that both changed
}

// Field is a field of a record that two people changed: what it is now, and what the command would make it. Values are JSON.
type Field struct {
	Field  string          `json:"field"`
	Theirs json.RawMessage `json:"theirs"`
	Yours  json.RawMessage `json:"yours"`
}

func (c *Conflict) Error() string { return "changed meanwhile: " + c.Subject.String() }

// Already says that a command with the same id, but of other content, was recorded before. Nothing was recorded now.
type Already struct{ Entries []store.Logged }

func (a *Already) Error() string { return "recorded before, otherwise" }

// Record records a batch, and gives the entries as they are in the log. The error is a *msg.Code that says why not, *Conflict or
// *Already.
func Record(ctx context.Context, s *store.Store, d syncing.Device, b Batch, now time.Time) (out []store.Logged, err error) {
	if len(b.Entries) == 0 || len(b.Entries) > MaxBatch {
		return nil, msg.New("batch.size", "max", strconv.Itoa(MaxBatch))
	}
	err = s.Write(ctx, func(tx *store.Tx) error {
		before, err := repeated(tx, d, b.Entries)
		if len(before) > 0 || err != nil {
			out = before
			return err
		}
		back := undoing{}
		if out, back, err = record(tx, d, b, now, nil); err != nil {
			return err
		}
		return back.keep(tx, d, out)
	})
	return out, err
}

// repeated gives the entries of a batch that was recorded before.
func repeated(tx *store.Tx, d syncing.Device, commands []Command) ([]store.Logged, error) {
	var found []store.Logged
	same := true
	for _, c := range commands {
		l, ok, err := tx.Find(c.ID)
		if err != nil {
			return nil, err
		}
		if !ok {
			continue
		}
		if l.Actor != d.PersonID && l.Brought != d.PersonID { // an id of somebody else's entry: who sends it is told nothing of that
			return nil, msg.New("entry.id_reused")
		}
		asked, err := tx.Asked(c.ID)
		if err != nil {
			return nil, err
		}
		found, same = append(found, l), same && asked == c.digest()
	}
	if len(found) > 0 && (!same || len(found) < len(commands)) {
		return nil, &Already{found}
	}
	return found, nil
}

// digest is the SHA-256 of a command as it was sent, in hex.
func (c Command) digest() string {
	var b bytes.Buffer
	if json.Compact(&b, c.Body) != nil {
		b.Write(c.Body)
	}
	b.WriteString("\n" + c.Kind + "\n" + c.Subject.String() + "\n")
	if c.Phoned != nil {
		b.WriteString(c.Phoned.Person + " " + c.Phoned.At.UTC().Format(time.RFC3339Nano) + "\n")
	}
	b.Write(c.Base)
	sum := sha256.Sum256(b.Bytes())
	return hex.EncodeToString(sum[:])
}

// record records a batch, and gives what takes it back. own are entries since it was made from what was seen that count as not there.
func record(tx *store.Tx, d syncing.Device, b Batch, now time.Time, own []string) (out []store.Logged, back undoing, err error) {
	company, today, err := tx.Company(now)
	if err != nil {
		return nil, back, err
	}
	sheets, err := store.SettingsOn[sheet.Settings](tx, today)
	if err != nil {
		return nil, back, err
	}
	ours := map[ledger.Ref]bool{} // changed by this batch
	for _, c := range b.Entries {
		digest := c.digest()
		if c.Body, err = Completed(tx, sheets, c); err != nil {
			return nil, back, err
		}
		n, err := tx.Seq()
		if err != nil {
			return nil, back, err
		}
		e := ledger.Entry{ID: c.ID, Kind: c.Kind, V: ledger.Version(c.Kind), At: now, Actor: d.PersonID, Replica: Replica, N: n + 1,
			Subject: c.Subject, Body: c.Body, Base: c.Base}
		in := store.Arrival{At: now, Asked: digest}
		if c.Phoned != nil {
			e.Actor, e.At, in.By = c.Phoned.Person, c.Phoned.At, d.PersonID
		}
		e.At = company.Zone.In(e.At.Truncate(time.Millisecond))
		f, err := ledger.Open(e)
		if err != nil {
			return nil, back, err
		}
		switch {
		case c.Phoned != nil:
			if err := mayWrite(tx, d, f, now); err != nil {
				return nil, back, err
			}
		case !f.MayCommand(d.Person):
			return nil, back, ErrRole(f.Needs(d.Person))
		}
		if err := conflict(tx, f, b.Seen, ours, own); err != nil {
			return nil, back, err
		}
		if err := back.add(tx, f); err != nil {
			return nil, back, err
		}
		seq, err := tx.Append(f, in)
		if err != nil {
			return nil, back, err
		}
		for _, ref := range f.Guards() {
			ours[ref] = true
		}
		out = append(out, store.Logged{Entry: f.Entry, Seq: seq, Received: now, Brought: in.By})
	}
	return out, back, nil
}

// conflict looks whether what a command is about changed after seen, but for own entries. An amendment may be made beside another as long
// as they change different fields.
func conflict(tx *store.Tx, f *ledger.Fact, seen int64, ours map[ledger.Ref]bool, own []string) error {
	for _, ref := range f.Guards() {
		doc, err := tx.Doc(ref)
		if err != nil {
			return err
		}
		// What says what it replaces is looked at field by field, however much else whoever made it has seen.
		fields, based, err := f.Clashes(doc)
		if err != nil {
			return err
		}
		if ours[ref] || (doc.Rev <= seen && !based) {
			continue
		}
		c := &Conflict{Subject: ref}
		for _, x := range fields {
			c.Fields = append(c.Fields, Field(x))
		}
		if based && len(c.Fields) == 0 {
			continue
		}
		if c.Seq, err = tx.Seq(); err != nil {
			return err
		}
		if c.Since, err = tx.TrailSince(doc, seen); err != nil {
			return err
		}
		if len(own) > 0 && !slices.ContainsFunc(c.Since, func(l store.Logged) bool { return !slices.Contains(own, l.ID) }) {
			continue
		}
		return c
	}
	return nil
}
