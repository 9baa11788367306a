package store

import (
	"context"
	"maps"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"sync"

	"iter.example/iter/core/ledger"
)

// Sources collects what answers were read from and what writes changed, so that only those questions are asked again whose answers may be
// others. A source is a document ("visit/V1", its id escaped as in a path), all documents of a type ("visit/"), all documents ("docs"), a
// table ("held"), or the Clock.
type Sources struct {
	mu            sync.Mutex
	read, changed names
}

// names are sources.
type names map[string]bool

// add notes a document. Names go into a header of an answer, and who asks may have made up both parts.
func (n names) add(r ledger.Ref) { n[url.PathEscape(r.Type)+"/"+url.PathEscape(r.ID)] = true }

// Read lists what was read.
func (s *Sources) Read() []string { return s.list(s.read) }

// Changed lists what was changed.
func (s *Sources) Changed() []string { return s.list(s.changed) }

func (s *Sources) list(n names) []string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return n.list()
}

// maxNamed is how many documents of a type are named one by one.
const maxNamed = 6 // a header that names them stays well below what proxies take

// list sorts names. Of many documents of a type it gives the type.
func (n names) list() []string {
	of := map[string]int{}
	for name := range n {
		if typ, _, doc := strings.Cut(name, "/"); doc {
			of[typ]++
		}
	}
	out := names{}
	for name := range n {
		if typ, _, doc := strings.Cut(name, "/"); doc && (n[typ+"/"] || of[typ] > maxNamed) {
			name = typ + "/"
		}
		out[name] = true
	}
	return slices.Sorted(maps.Keys(out))
}

// Clock is the source of what depends on what time it is.
const Clock = "clock"

// ReadClock notes that an answer depends on what time it is.
func ReadClock(ctx context.Context) {
	if s, ok := ctx.Value(collecting{}).(*Sources); ok {
		s.mu.Lock()
		defer s.mu.Unlock()
		s.read[Clock] = true
	}
}

type collecting struct{}

// Collect gives a context in which transactions say what they read and changed.
func Collect(ctx context.Context) (context.Context, *Sources) {
	s := &Sources{read: names{}, changed: names{}}
	return context.WithValue(ctx, collecting{}, s), s
}

// collected adds what a transaction read and changed to what its context collects.
func (t *Tx) collected(changed names) {
	s, ok := t.ctx.Value(collecting{}).(*Sources)
	if !ok {
		return
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	maps.Copy(s.read, t.sources)
	maps.Copy(s.changed, changed)
}

var (
	tableRead    = regexp.MustCompile(`(?i)\b(?:FROM|JOIN)\s+(\w+)`)
	tableWritten = regexp.MustCompile(`(?i)\b(?:INTO|UPDATE|DELETE\s+FROM)\s+(\w+)`)
	typeRead     = regexp.MustCompile(`\btype = '(\w+)'`)
)

// Statements that read documents whose names are noted where they are used.
const (
	readDoc  = "SELECT rev, body FROM docs WHERE type = ? AND id = ?"
	readType = "SELECT type, id, rev, body FROM docs WHERE type = ? ORDER BY id"
	readIDs  = "SELECT id FROM docs WHERE type = ? ORDER BY id"
)

// touched are the names of what a statement reads and writes.
type touched struct{ read, written []string }

// known keeps what statements touch, by statement: there are some hundred.
var known sync.Map

// note notes what a statement reads or writes.
func (t *Tx) note(query string) {
	found, ok := known.Load(query)
	switch {
	case ok:
	case strings.HasPrefix(query, built):
		found = touches(query)
	default:
		found, _ = known.LoadOrStore(query, touches(query))
	}
	for _, name := range found.(touched).read {
		t.sources[name] = true
	}
	for _, name := range found.(touched).written {
		t.written[name] = true
	}
}

// touches tells which tables a statement reads or writes. Of entries, which never change, Trail notes whose it reads; a written document is
// noted by its name.
func touches(query string) (out touched) {
	if m := tableWritten.FindStringSubmatch(query); m != nil {
		if m[1] != "docs" && m[1] != "entries" {
			out.written = append(out.written, m[1])
		}
		return out
	}
	for _, m := range tableRead.FindAllStringSubmatch(query, -1) {
		switch table := m[1]; {
		case table == "entries", query == readDoc, query == readType, query == readIDs:
		case table == "docs":
			types := typeRead.FindAllStringSubmatch(query, -1)
			for _, typ := range types {
				out.read = append(out.read, typ[1]+"/")
			}
			if types == nil {
				out.read = append(out.read, "docs")
			}
		default:
			out.read = append(out.read, table)
		}
	}
	return out
}

// Reading runs f, and gives the names of what it read in the transaction.
func (t *Tx) Reading(f func() error) ([]string, error) {
	before := t.sources
	t.sources = names{}
	err := f()
	read := slices.Collect(maps.Keys(t.sources))
	maps.Copy(before, t.sources)
	t.sources = before
	return read, err
}

// HasRead notes that what the transaction gives was read before, with the names that Reading gave then.
func (t *Tx) HasRead(read []string) {
	for _, name := range read {
		t.sources[name] = true
	}
}

// Touches tells whether what was read, by the names of Reading, may be other after a change.
func (c Changed) Touches(read []string) bool {
	return slices.ContainsFunc(c.Names, func(name string) bool {
		typ, id, doc := strings.Cut(name, "/")
		return slices.ContainsFunc(read, func(r string) bool {
			return r == name || doc && (r == typ+"/" || r == "docs" || id == "" && strings.HasPrefix(r, name))
		})
	})
}

// Changed is what a write changed: which documents, everything by the names of Sources, and the place of its last entry in the log, 0 when
// it has none.
type Changed struct {
	Docs  []ledger.Ref
	Names []string
	Seq   int64
}

// quiet are tables whose change alone is no news: they change whenever a device asks.
var quiet = names{"devices": true, "packs": true, "program": true, "brought_bytes": true}

// whatChanged is what the transaction changed, and whether that is news.
func (t *Tx) whatChanged() (c Changed, all names, news bool) {
	all = maps.Clone(t.written)
	for _, r := range append(slices.Clone(t.changed), t.subjects...) {
		all.add(r)
	}
	for name := range all {
		news = news || !quiet[name]
	}
	return Changed{Docs: t.changed, Names: all.list(), Seq: t.appended}, all, news
}
