package api

import (
	"encoding/json"
	"net/http"
	"slices"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

// HeldLine is an entry that waits for a decision, with what would happen.
type HeldLine struct {
	store.HeldEntry
	Name      string    `json:"name"`             // of the person who sent it
	BroughtBy string    `json:"by,omitempty"`     // name of who took in the file that it came in
	About     string    `json:"about"`            // what it is about, in words
	Cannot    *msg.Code `json:"cannot,omitempty"` // why it can't be taken on by whoever asks
	Theirs    bool      `json:"theirs"`           // whether it is for whoever asks to decide on
	Would     Would     `json:"would"`
}

// Would is what an entry would do: the documents it would change, and what would be flagged.
type Would struct {
	Changes []WouldChange `json:"changes"`
	Flags   []msg.Code    `json:"flags"`
}

// WouldChange is a document that would change. Of a record the fields are told, with their JSON values.
type WouldChange struct {
	Ref    ledger.Ref    `json:"ref"`
	About  string        `json:"about"` // in words
	New    bool          `json:"new,omitempty"`
	Fields []FieldChange `json:"fields"`
}

// FieldChange is a field of a record before and after; a value that is not there is null.
type FieldChange struct {
	Field  string          `json:"field"`
	Before json.RawMessage `json:"before"`
	After  json.RawMessage `json:"after"`
}

// held lists the entries that whoever asks decides on; the judges see all.
func (s *Server) held(c *gin.Context) ([]HeldLine, error) {
	ctx, d := c.Request.Context(), who(c)
	var all []store.HeldEntry
	if err := s.Store.Read(ctx, func(tx *store.Tx) (err error) { all, err = tx.Held(); return err }); err != nil {
		return nil, err
	}
	out := []HeldLine{}
	for _, h := range all {
		// Each on a snapshot of its own: what it would change is not there for the next, nor for the words.
		var outlook syncing.Outlook
		err := s.Store.Read(ctx, func(tx *store.Tx) (err error) { outlook, err = syncing.LookAhead(tx, d, h); return err })
		if err == nil && (outlook.Theirs || d.Person.Has(records.Dispatcher, records.Reviewer)) {
			err = s.Store.Read(ctx, func(tx *store.Tx) error {
				l, err := heldLine(tx, h, outlook)
				out = append(out, l)
				return err
			})
		}
		if err != nil {
			return nil, err
		}
	}
	return out, nil
}

// heldLine says a held entry and what it would do in words.
func heldLine(tx *store.Tx, h store.HeldEntry, outlook syncing.Outlook) (HeldLine, error) {
	l := HeldLine{HeldEntry: h, Cannot: outlook.Why, Theirs: outlook.Theirs, Would: Would{Changes: []WouldChange{}, Flags: []msg.Code{}}}
	var err error
	if l.Name, err = tx.NameOf(h.Person); err != nil {
		return l, err
	}
	if h.Brought != "" {
		if l.BroughtBy, err = tx.NameOf(h.Brought); err != nil {
			return l, err
		}
	}
	if l.About, err = tx.About(h.Entry.Subject); err != nil {
		return l, err
	}
	return l, l.Would.tell(tx, outlook)
}

// tell puts what would happen in words.
func (w *Would) tell(tx *store.Tx, o syncing.Outlook) error {
	for _, c := range o.Changes {
		about, err := tx.About(c.Ref)
		if err != nil {
			return err
		}
		line := WouldChange{Ref: c.Ref, About: about, New: c.Before == nil, Fields: []FieldChange{}}
		for _, f := range ledger.Differences(c.Ref.Type, c.Before, c.After) {
			line.Fields = append(line.Fields, FieldChange(f))
		}
		w.Changes = append(w.Changes, line)
	}
	for _, f := range o.Flags {
		w.Flags = append(w.Flags, f.Code)
	}
	return nil
}

// Decision is what a person decides on a held entry.
type Decision struct {
	Do syncing.Verdict `json:"do"`
}

func (s *Server) decide(c *gin.Context, in Decision) (Done, error) {
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil || !slices.Contains(in.Do.Values(), string(in.Do)) {
		return Done{}, refusal{status: http.StatusBadRequest, why: msg.New("http.body")}
	}
	return Done{}, s.Store.Write(c.Request.Context(), func(tx *store.Tx) error { return syncing.Decide(tx, who(c), id, in.Do, s.Now()) })
}

// Recorded is the answer to a batch of commands: the entries as they are in the log, with the numbers that were given.
type Recorded struct {
	Entries []store.Logged `json:"entries"`
}

func (s *Server) command(c *gin.Context, in office.Batch) (Recorded, error) {
	out, err := office.Record(c.Request.Context(), s.Store, who(c), in, s.Now())
	return Recorded{out}, err
}

// Conflict is the problem that a command is refused with (409) because others changed meanwhile what it is about, or because another
// command was recorded under its id. Everything is as it was before.
type Conflict struct {
	Problem
	Seen   int64          `json:"seen"` // a command that is sent with this knows what is told here
	Since  []SinceLine    `json:"since"`
	Fields []office.Field `json:"fields"` // that both changed
	// Entries are those that were recorded under the ids before, when that is why.
	Entries []store.Logged `json:"entries"`
}

// SinceLine is what somebody did meanwhile.
type SinceLine struct {
	Kind  string    `json:"kind"`
	Actor string    `json:"actor"` // name
	At    time.Time `json:"at"`
}

// conflict answers for a command that was made from what has changed since.
func (s *Server) conflict(c *gin.Context, why *office.Conflict) {
	out := Conflict{Problem: problemOf(http.StatusConflict, msg.New("command.changed")), Seen: why.Seq, Since: []SinceLine{},
		Fields: append([]office.Field{}, why.Fields...), Entries: []store.Logged{}}
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) error {
		for _, l := range why.Since {
			name, err := tx.NameOf(l.Actor)
			if err != nil {
				return err
			}
			out.Since = append(out.Since, SinceLine{l.Kind, name, l.At})
		}
		return nil
	})
	if err != nil {
		s.fail(c, err)
		return
	}
	writeProblem(c.Writer, out.Status, out)
	c.Abort()
}

// already answers for commands that were recorded before under their ids, and otherwise.
func (s *Server) already(c *gin.Context, why *office.Already) {
	out := Conflict{Problem: problemOf(http.StatusConflict, msg.New("command.already")), Since: []SinceLine{}, Fields: []office.Field{},
		Entries: why.Entries}
	writeProblem(c.Writer, out.Status, out)
	c.Abort()
}
