package office

import (
	"context"
	"encoding/json"
	"reflect"
	"slices"
	"time"

	"github.com/oklog/ulid/v2"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

// MostUndone is how many of the last batches somebody can take back.
const MostUndone = 20

// undoing collects what takes a batch back while it is recorded: with the documents as they were before each command.
type undoing struct {
	drafts []ledger.Command
	final  bool // something in it nothing takes back
}

// add collects the opposite of a command that is not recorded yet, to be done before those of the commands before it.
func (o *undoing) add(tx *store.Tx, f *ledger.Fact) error {
	back, err := f.Undo(func(r ledger.Ref, v any) (bool, error) { return tx.Load(r.Type, r.ID, v) })
	o.final = o.final || len(back) == 0
	// A visit that is planned and sent at once is withdrawn once.
	back = slices.DeleteFunc(back, func(d ledger.Command) bool {
		return slices.ContainsFunc(o.drafts, func(x ledger.Command) bool { return d.Kind == "visit.withdrawn" && reflect.DeepEqual(d, x) })
	})
	o.drafts = append(back, o.drafts...)
	return err
}

// taking is a command that takes something back.
type taking struct {
	Command
	// Why tells that it lacks the reason.
	Why bool `json:"why,omitempty"`
}

// keep keeps what was done with what takes it back.
func (o *undoing) keep(tx *store.Tx, d syncing.Device, out []store.Logged) error {
	list := []taking{}
	if !o.final {
		for _, draft := range o.drafts {
			c := taking{Command: Command{ID: ulid.Make().String(), Kind: draft.Kind, Subject: draft.Subject}, Why: draft.Why}
			var err error
			if c.Body, err = json.Marshal(draft.Body); err != nil {
				return err
			}
			if draft.Base != nil {
				if c.Base, err = json.Marshal(draft.Base); err != nil {
					return err
				}
			}
			list = append(list, c)
		}
	}
	commands, err := json.Marshal(list)
	if err != nil {
		return err
	}
	last := out[len(out)-1]
	done := store.Undoable{ID: out[0].ID, Person: d.PersonID, Seq: last.Seq, Kind: last.Kind, Subject: last.Subject,
		Commands: string(commands)}
	for _, l := range out {
		done.Entries = append(done.Entries, l.ID)
	}
	return tx.KeepUndoable(done)
}

// Undo takes back what somebody did, by the id of its first entry, once however often it is asked for. reason is what the commands say
// that need one. The error is a *msg.Code that says why not, or a *Conflict.
func Undo(ctx context.Context, s *store.Store, d syncing.Device, id, reason string, now time.Time) (out []store.Logged, err error) {
	err = s.Write(ctx, func(tx *store.Tx) error {
		done, ok, err := tx.UndoableAs(id)
		if err != nil {
			return err
		}
		if !ok || done.Person != d.PersonID {
			return msg.New("undo.unknown")
		}
		if len(done.Undone) > 0 {
			out, err = found(tx, done.Undone)
			return err
		}
		var list []taking
		if err := json.Unmarshal([]byte(done.Commands), &list); err != nil {
			return err
		}
		if len(list) == 0 {
			return msg.New("undo.final")
		}
		b := Batch{Seen: done.Seq}
		for _, c := range list {
			if c.Body, err = struckWhole(tx, c.Command); err != nil {
				return err
			}
			if c.Why {
				if c.Body, err = with(c.Kind, c.Body, "reason", func() (any, error) { return reason, nil }); err != nil {
					return err
				}
			}
			b.Entries = append(b.Entries, c.Command)
		}
		own, err := takenBack(tx, d, done)
		if err != nil {
			return err
		}
		if out, _, err = record(tx, d, b, now, own); err != nil {
			return err
		}
		ids := []string{}
		for _, l := range out {
			ids = append(ids, l.ID)
		}
		return tx.NoteUndone(id, ids)
	})
	return out, err
}

// found are entries of the log.
func found(tx *store.Tx, ids []string) (out []store.Logged, err error) {
	for _, id := range ids {
		l, ok, err := tx.Find(id)
		if err != nil {
			return nil, err
		}
		if ok {
			out = append(out, l)
		}
	}
	return out, nil
}

// struckWhole is the body of a command that strikes an entry out or restores it, with all the documents that the entry counts on; of others
// it is as it is.
func struckWhole(tx *store.Tx, c Command) (json.RawMessage, error) {
	var s ledger.Struck
	if c.Kind != "entry.struck_by_office" && c.Kind != "entry.restored" || json.Unmarshal(c.Body, &s) != nil {
		return c.Body, nil
	}
	l, ok, err := tx.Find(s.Entry)
	if err != nil || !ok {
		return c.Body, err
	}
	if s, err = tx.Striking(l.Entry); err != nil {
		return nil, err
	}
	return json.Marshal(s)
}

// takenBack are the entries since a batch that the same person took back, and those that did that: together they changed nothing.
func takenBack(tx *store.Tx, d syncing.Device, since store.Undoable) (ids []string, err error) {
	all, err := tx.UndoableBy(d.PersonID)
	for _, done := range all {
		if done.Seq > since.Seq && len(done.Undone) > 0 {
			ids = append(ids, slices.Concat(done.Entries, done.Undone)...)
		}
	}
	return ids, err
}
