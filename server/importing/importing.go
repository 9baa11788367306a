// Package importing reads a company's own data from CSV files. docs/import.md shows the columns.
//
// It is all or nothing: every error is listed, and with one error nothing is changed. Importing the same files again changes
// nothing, since only differences become entries.
package importing

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"slices"
	"strings"
	"time"

	jsonpatch "github.com/evanphx/json-patch/v5"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/company"
	"iter.example/iter/server/store"
)

// Problem is one thing wrong with the files.
type Problem struct {
	File     string
	Line     int    // 1 is the line of column names
	Column   string // "" when it is about the whole line
	Expected string
	Found    string
}

func (p Problem) String() string {
	s := fmt.Sprintf("%s:%d", p.File, p.Line)
	if p.Column != "" {
		s += " column " + p.Column
	}
	s += ": expected " + p.Expected
	if p.Found != "" {
		s += fmt.Sprintf(", found %q", clip(p.Found))
	}
	return s
}

// Problems are all that is wrong. It is an error.
type Problems []Problem

func (p Problems) Error() string {
	lines := make([]string, len(p))
	for i, x := range p {
		lines[i] = x.String()
	}
	return strings.Join(lines, "\n")
}

// Result counts what an import did, by file.
type Result struct {
	Created, Changed, Same int
	Found                  int // sites that were put on the map by their address
}

// LookUp gives where an address is, when that is known well enough to drive there.
type LookUp func(address string) (at records.Point, known bool)

// Import reads the files there are in a folder into the store. On Problems, or any other error, nothing has changed. lookUp is asked for
// sites that nobody has said the place of; it may be nil.
func Import(ctx context.Context, s *store.Store, dir fs.FS, now time.Time, lookUp LookUp) (map[string]Result, error) {
	out := map[string]Result{}
	err := s.Write(ctx, func(tx *store.Tx) error {
		rules, err := tx.Settings(now)
		if err != nil {
			return err
		}
		in := &importer{tx: tx, zone: rules.Company.Zone, sheets: rules.Sheets.Always, w: company.Writer{Tx: tx, Now: now},
			at:   rules.Company.Zone.In(now),
			seen: map[ledger.Ref]string{}, results: out, lookUp: lookUp}
		found := 0
		for _, t := range tables {
			raw, err := fs.ReadFile(dir, t.file)
			if errors.Is(err, fs.ErrNotExist) {
				continue
			}
			if err != nil {
				return err
			}
			found++
			if err := in.table(t, raw); err != nil {
				return err
			}
		}
		if found == 0 {
			names := make([]string, len(tables))
			for i, t := range tables {
				names[i] = t.file
			}
			return fmt.Errorf("no file to import: the folder should hold one or more of %s", strings.Join(names, ", "))
		}
		if len(in.problems) > 0 {
			return in.problems
		}
		return nil
	})
	if p, ok := errors.AsType[Problems](err); ok {
		return nil, p
	}
	if err != nil {
		return nil, err
	}
	return out, nil
}

// File reads one file, by its name, as Import reads a folder.
func File(ctx context.Context, s *store.Store, name string, raw []byte, now time.Time) (Result, error) {
	out, err := Import(ctx, s, oneFile{name, raw}, now, nil)
	return out[name], err
}

// oneFile is a folder with one file.
type oneFile struct {
	name string
	raw  []byte
}

func (f oneFile) Open(name string) (fs.File, error) {
	return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
}

// ReadFile implements fs.ReadFileFS.
func (f oneFile) ReadFile(name string) ([]byte, error) {
	if name != f.name {
		return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
	}
	return f.raw, nil
}

type importer struct {
	lookUp   LookUp
	tx       *store.Tx
	zone     interface{ In(time.Time) time.Time }
	sheets   []string // that new work gets
	w        company.Writer
	at       time.Time
	seen     map[ledger.Ref]string // where a record was read, to find it twice
	results  map[string]Result
	problems Problems
}

func (in *importer) table(t table, raw []byte) error {
	in.results[t.file] = Result{}
	text, ok := utf8Of(raw)
	if !ok {
		in.add(t.file, 1, "", "a text file in UTF-8, UTF-16 with its mark, or Windows-1252", "")
		return nil
	}
	r := csv.NewReader(bytes.NewReader(text))
	r.FieldsPerRecord = -1
	header, err := r.Read()
	if err != nil {
		in.add(t.file, 1, "", "a first line with the names of the columns: "+strings.Join(t.names(), ", "), "")
		return nil
	}
	for i := range header {
		header[i] = strings.ToLower(strings.TrimSpace(header[i]))
		if !slices.Contains(t.names(), header[i]) {
			in.add(t.file, 1, header[i], "one of the columns "+strings.Join(t.names(), ", "), header[i])
		}
		if slices.Index(header, header[i]) < i {
			in.add(t.file, 1, header[i], "each column once", "")
		}
	}
	bad := false
	for _, c := range t.columns {
		if c.required && !slices.Contains(header, c.name) {
			in.add(t.file, 1, c.name, "this column", "")
			bad = true
		}
	}
	if bad {
		return nil
	}
	for {
		fields, err := r.Read()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if pe, ok := errors.AsType[*csv.ParseError](err); ok {
			in.add(t.file, pe.StartLine, "", "a line of CSV ("+pe.Err.Error()+")", "")
			return nil
		}
		if err != nil {
			return err
		}
		line, _ := r.FieldPos(0)
		if len(fields) != len(header) {
			in.add(t.file, line, "", fmt.Sprintf("%d fields", len(header)), fmt.Sprintf("%d", len(fields)))
			continue
		}
		row := &row{in: in, file: t.file, line: line, values: map[string]string{}}
		for i, h := range header {
			row.values[h] = strings.TrimSpace(fields[i])
		}
		for _, c := range t.columns {
			if c.required && row.values[c.name] == "" {
				row.bad(c.name, c.what, "")
			}
		}
		if row.failed {
			continue
		}
		if err := t.read(row); err != nil {
			return err
		}
	}
}

func (in *importer) add(file string, line int, column, expected, found string) {
	in.problems = append(in.problems, Problem{file, line, column, expected, found})
}

// count notes what came of a line.
func (in *importer) count(file string, f func(*Result)) {
	r := in.results[file]
	f(&r)
	in.results[file] = r
}

// put makes a record what it should be: a new one, or the difference to the one there is. v is a pointer to the record as it
// is now with the file's fields set.
func (r *row) put(ref ledger.Ref, v any) error {
	if r.failed {
		return nil
	}
	if where, twice := r.in.seen[ref]; twice {
		r.bad("", "each record once (it is also in "+where+")", ref.ID)
		return nil
	}
	r.in.seen[ref] = fmt.Sprintf("%s:%d", r.file, r.line)
	raw, err := json.Marshal(v)
	if err != nil {
		return err
	}
	old, err := r.in.tx.Doc(ref)
	if err != nil {
		return err
	}
	if old.Body == nil {
		return r.append("record.created", ref, json.RawMessage(raw), nil, func(x *Result) { x.Created++ })
	}
	patch, err := jsonpatch.CreateMergePatch(old.Body, raw)
	if err != nil {
		return err
	}
	if string(patch) == "{}" {
		r.in.count(r.file, func(x *Result) { x.Same++ })
		return nil
	}
	base, err := jsonpatch.CreateMergePatch(raw, old.Body)
	if err != nil {
		return err
	}
	return r.append("record.amended", ref, json.RawMessage(patch), base, func(x *Result) { x.Changed++ })
}

func (r *row) append(kind string, ref ledger.Ref, body any, base json.RawMessage, done func(*Result)) error {
	_, err := r.in.w.Append(kind, ref, company.Program, r.in.at, body, base)
	if c, ok := errors.AsType[*msg.Code](err); ok {
		r.bad("", "a record that can be taken", c.Error())
		return nil
	}
	if err == nil {
		r.in.count(r.file, done)
	}
	return err
}

func clip(s string) string {
	if r := []rune(s); len(r) > 60 {
		return string(r[:60]) + "…"
	}
	return s
}
