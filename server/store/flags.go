package store

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// putFlag keeps a flag. apart tells that it does not come from folding the log.
func (t *Tx) putFlag(f ledger.Flag, seq int64, at time.Time, apart bool) error {
	args, err := json.Marshal(f.Args)
	if err != nil {
		return err
	}
	if _, err := t.exec(`INSERT INTO flags (entry, code, args, person, subject_type, subject_id, at, seq, apart)
		VALUES (?,?,?,?,?,?,?,?,?)`,
		f.Entry, f.Code.Code, args, f.Person, f.Subject.Type, f.Subject.ID, stamp(at), seq, apart); err != nil {
		return fmt.Errorf("flag %s: %w", f.Entry, err)
	}
	return t.noticed(f.Person, seq)
}

// markFlags notes which flags an entry says are seen or settled.
func (t *Tx) markFlags(f *ledger.Fact, seq int64) error {
	mark, ok := f.Marks()
	if !ok {
		return nil
	}
	column := "seen"
	if mark.Settled {
		column = "settled"
	}
	where, args := "subject_type = ?2 AND subject_id = ?4", []any{seq, f.Subject().Type, mark.Code, f.Subject().ID, mark.Person}
	if mark.Part != "" { // what was flagged of a part at a place stands on whatever moved it
		where, args[1] = "args ->> '$.place' = ?4 AND args ->> '$.number' = ?2", mark.Part
	}
	people, err := collect(t, scanString,
		"UPDATE flags SET "+column+" = ?1 WHERE "+where+" AND code = ?3 AND (?5 = '' OR person = ?5) AND "+column+" = 0 "+
			"AND seq < ?1 RETURNING person", args...)
	if mark.Person != "" {
		people = append(people, mark.Person)
	}
	slices.Sort(people)
	for _, p := range slices.Compact(people) {
		err = errors.Join(err, t.noticed(p, seq))
	}
	return err
}

func (t *Tx) noticed(person string, seq int64) error {
	t.changed = append(t.changed, ledger.NoticesRef(person))
	_, err := t.exec("INSERT INTO notices (person, seq) VALUES (?,?) ON CONFLICT (person) DO UPDATE SET seq = max(seq, excluded.seq)",
		person, seq)
	return err
}

// maxNotices is how many notices are listed at once: the latest.
const maxNotices = 200

// forThePerson are flags that tell a person what became of something they asked for: nothing is left to do at the office.
const forThePerson = "('request.in', 'request.declined')"

// OpenFlags gives what is flagged and not settled, as notices: the latest first.
func (t *Tx) OpenFlags() ([]ledger.Notice, error) {
	return t.notices("settled = 0 AND code NOT IN "+forThePerson, maxNotices)
}

// FlagsOn gives what is flagged on a document and not settled, as notices: the latest first.
func (t *Tx) FlagsOn(r ledger.Ref) ([]ledger.Notice, error) {
	return t.notices("settled = 0 AND subject_type = ? AND subject_id = ? AND code NOT IN "+forThePerson, maxNotices, r.Type, r.ID)
}

// FlagCounts gives how many notices, as FlagsOn lists them, there are of each code on some documents of a type, by their ids.
func (t *Tx) FlagCounts(typ string, ids []string) (map[string]map[string]int, error) {
	list, err := json.Marshal(ids)
	if err != nil {
		return nil, err
	}
	type flagged struct{ id, code string }
	all, err := collect(t, func(row interface{ Scan(...any) error }) (f flagged, err error) { return f, row.Scan(&f.id, &f.code) },
		`SELECT subject_id, code FROM flags WHERE settled = 0 AND subject_type = ? AND subject_id IN (SELECT value FROM json_each(?))
			AND code NOT IN `+forThePerson+" GROUP BY subject_id, code, person", typ, string(list))
	out := map[string]map[string]int{}
	for _, f := range all {
		if out[f.id] == nil {
			out[f.id] = map[string]int{}
		}
		out[f.id][f.code]++
	}
	return out, err
}

// NoticesOf gives a person's notices as a document: what is flagged of theirs that they have not seen and nobody has settled.
func (t *Tx) NoticesOf(person string) (ledger.Doc, error) {
	d := ledger.Doc{Ref: ledger.NoticesRef(person)}
	var err error
	if d.Rev, err = t.NoticesRev(person); err != nil {
		return d, err
	}
	list, err := t.notices("settled = 0 AND seen = 0 AND person = ? AND code NOT IN ('note.to_office', 'request.withdrawn_late')", 50,
		person)
	if err != nil {
		return d, err
	}
	d.Body, err = json.Marshal(ledger.Notices{List: list})
	return d, err
}

// NoticesRev is the revision of a person's notices: the seq of the last entry that changed them.
func (t *Tx) NoticesRev(person string) (rev int64, err error) {
	err = t.row("SELECT coalesce(max(seq), 0) FROM notices WHERE person = ?", person).Scan(&rev)
	return rev, err
}

func (t *Tx) notices(where string, limit int, args ...any) ([]ledger.Notice, error) {
	// With max(), SQLite takes the other columns from the row that has the maximum.
	list, err := collect(t, func(row interface{ Scan(...any) error }) (ledger.Notice, error) {
		var n ledger.Notice
		var raw []byte
		var at string
		var id int64
		if err := row.Scan(&id, &n.Entry, &n.Code.Code, &raw, &n.Person, &n.Subject.Type, &n.Subject.ID, &at, &n.Count); err != nil {
			return n, err
		}
		if err := json.Unmarshal(raw, &n.Args); err != nil {
			return n, err
		}
		var err error
		n.At, err = time.Parse(time.RFC3339Nano, at)
		return n, err
	}, "SELECT max(id), entry, code, args, person, subject_type, subject_id, at, count(*) FROM flags WHERE "+where+
		" GROUP BY subject_type, subject_id, code, person ORDER BY 1 DESC LIMIT ?", append(args, limit)...)
	if err != nil {
		return nil, err
	}
	for i := range list {
		if list[i].About, err = t.About(list[i].Subject); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// ClockErrors lists the entries of a person whose time lay ahead of the office's clock, and when they say they were.
func (t *Tx) ClockErrors(person string) (map[string]time.Time, error) {
	type wrong struct{ entry, at string }
	all, err := collect(t, func(row interface{ Scan(...any) error }) (w wrong, err error) { return w, row.Scan(&w.entry, &w.at) },
		"SELECT e.id, e.at FROM flags f JOIN entries e ON e.id = f.entry WHERE f.settled = 0 AND f.person = ? AND f.code = 'time.ahead'",
		person)
	out := map[string]time.Time{}
	for _, w := range all {
		at, err := time.Parse(time.RFC3339Nano, w.at)
		if err != nil {
			return nil, err
		}
		out[w.entry] = at
	}
	return out, err
}

// About names a document in words: a visit by its work order's number and site, a timecard by its person and date.
func (t *Tx) About(r ledger.Ref) (string, error) {
	if r.Type == "timecard" {
		person, date, _ := strings.Cut(r.ID, "+")
		var p records.Person
		_, err := t.Load("person", person, &p)
		return strings.TrimSpace(p.Name + " · " + date), err
	}
	if r.Type == "workorder" || r.Type == "talk" {
		return t.orderAbout(r.ID)
	}
	if r.Type != "visit" {
		var named struct {
			Name string `json:"name"`
		}
		_, err := t.Load(r.Type, r.ID, &named)
		return named.Name, err
	}
	var v work.Visit
	if _, err := t.Load("visit", r.ID, &v); err != nil {
		return "", err
	}
	return t.orderAbout(v.Order)
}

// orderAbout says a work order in words: its number and site.
func (t *Tx) orderAbout(id string) (string, error) {
	w, err := t.Work(id)
	return strings.TrimSpace(w.Order.Number + " · " + w.Site.Name), err
}

// NameOf gives a person's name, or the id of somebody who is not known.
func (t *Tx) NameOf(person string) (string, error) {
	var p records.Person
	if ok, err := t.Load("person", person, &p); err != nil || !ok {
		return person, err
	}
	return p.Name, nil
}
