package addresses

import (
	"context"
	"database/sql"
	"errors"
	"math"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/paulmach/orb"
	"github.com/paulmach/orb/quadtree"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/spelling"
)

// Region is what a book is made of.
type Region struct {
	Places  []NamedPlace
	Streets []NamedStreet
	Houses  []NumberedHouse
}

// NamedPlace is a town, village or smaller place. Its class is city, town, village or hamlet.
type NamedPlace struct {
	Name, Class string
	At          records.Point
}

// NamedStreet is a road with a name, at a point of it. A street of several roads comes several times.
type NamedStreet struct {
	Name string
	At   records.Point
}

// NumberedHouse is a house with its number, as 12 or 12a, on a street. City and Post are what it says of them, if it does.
type NumberedHouse struct {
	Street, Number, City, Post string
	At                         records.Point
}

// reach is how far a place goes, in metres, by its class.
var reach = map[string]float64{"city": 15_000, "town": 6000, "village": 3500, "hamlet": 2000}

// schema makes a book. The words that a street is found by are those of its name and of where it is.
const schema = `
CREATE TABLE streets (id INTEGER PRIMARY KEY, name TEXT NOT NULL, place TEXT NOT NULL, lat REAL NOT NULL, lon REAL NOT NULL,
	is_place INTEGER NOT NULL, words TEXT NOT NULL);
CREATE TABLE houses (street INTEGER NOT NULL, number INTEGER NOT NULL, suffix TEXT NOT NULL, lat REAL NOT NULL, lon REAL NOT NULL);
CREATE VIRTUAL TABLE found USING fts5 (words, detail = none, content = 'streets', content_rowid = 'id',
	tokenize = "unicode61 remove_diacritics 0");
CREATE VIRTUAL TABLE vocabulary USING fts5vocab (found, 'row');`

// Write writes a book.
func Write(ctx context.Context, path string, r Region) (err error) {
	db, err := sql.Open("sqlite", "file:"+(&url.URL{Path: path}).EscapedPath()+"?_pragma=journal_mode(OFF)&_pragma=synchronous(FULL)")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	tx, err := db.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback() //nolint:errcheck // nothing is left to undo once it is committed
	if _, err := tx.ExecContext(ctx, schema); err != nil {
		return err
	}
	w := &writing{ctx: ctx, tx: tx, places: map[string]*quadtree.Quadtree{}, known: map[string]*entry{}}
	if err := w.gather(r); err != nil {
		return err
	}
	if err := w.write(); err != nil {
		return err
	}
	for _, last := range []string{"INSERT INTO found (found) VALUES ('rebuild')", "CREATE INDEX houses_by_street ON houses (street, number)"} {
		if _, err := tx.ExecContext(ctx, last); err != nil {
			return err
		}
	}
	return tx.Commit()
}

type writing struct {
	ctx    context.Context
	tx     *sql.Tx
	places map[string]*quadtree.Quadtree // by class
	known  map[string]*entry             // by name and place
	order  []*entry
}

// entry is a street of a place, or a place.
type entry struct {
	id          int64
	name, place string
	words       []string // each once
	at          records.Point
	isPlace     bool
	houses      []numbered
}

// located is a place in a tree of them.
type located struct{ NamedPlace }

// Point is where a place is in a plane on which distances of a few kilometres are true to scale.
func (l located) Point() orb.Point { return plane(l.At) }

func plane(p records.Point) orb.Point {
	lat := min(max(p.Lat, -85), 85) * math.Pi / 180
	return orb.Point{p.Lon, math.Asinh(math.Tan(lat)) * 180 / math.Pi}
}

// gather gathers the streets, each once for every place that has one of its name, and their houses.
func (w *writing) gather(r Region) error {
	world := orb.Bound{Min: orb.Point{-181, -181}, Max: orb.Point{181, 181}}
	for class := range reach {
		w.places[class] = quadtree.New(world)
	}
	for _, p := range r.Places {
		if tree := w.places[p.Class]; tree != nil {
			if err := tree.Add(located{p}); err != nil {
				return err
			}
		}
	}
	for _, p := range r.Places {
		place, others := w.around(p.At)
		if place == p.Name {
			place = ""
		}
		e := w.entry("place\x00"+strconv.FormatFloat(p.At.Lat, 'f', 5, 64)+" "+strconv.FormatFloat(p.At.Lon, 'f', 5, 64), p.Name, place, p.At)
		e.isPlace = true
		e.find(append(others, p.Name)...)
	}
	for _, s := range r.Streets {
		w.street(s.Name, s.At)
	}
	for _, h := range r.Houses {
		number, suffix, ok := numberOf(h.Number)
		if !ok || h.Street == "" {
			continue
		}
		e := w.street(h.Street, h.At)
		e.find(h.City, h.Post)
		e.houses = append(e.houses, numbered{number, suffix, h.At})
	}
	return nil
}

// street is the street of a name at a point.
func (w *writing) street(name string, at records.Point) *entry {
	place, others := w.around(at)
	e := w.entry(spelling.Fold(name)+"\x00"+place, name, place, at)
	e.find(append(others, name)...)
	return e
}

func (w *writing) entry(key, name, place string, at records.Point) *entry {
	e := w.known[key]
	if e == nil {
		e = &entry{id: int64(len(w.order) + 1), name: name, place: place, at: at}
		w.known[key] = e
		w.order = append(w.order, e)
	}
	return e
}

func (e *entry) find(text ...string) {
	for _, t := range text {
		for _, x := range spelling.Words(t) {
			if !slices.Contains(e.words, x) {
				e.words = append(e.words, x)
			}
		}
	}
}

// around gives the place that a point is in, by how far each reaches, and the names of all that it may be said to be in.
func (w *writing) around(at records.Point) (place string, all []string) {
	nearest := 1.0
	for _, class := range []string{"city", "town", "village", "hamlet"} {
		found := w.places[class].Find(plane(at))
		if found == nil {
			continue
		}
		p := found.(located).NamedPlace //nolint:forcetypeassert // nothing else is in the tree
		part := roads.Metres(at, p.At) / reach[class]
		if part > 1 {
			continue
		}
		all = append(all, p.Name)
		if part < nearest {
			place, nearest = p.Name, part
		}
	}
	return place, all
}

// numberOf reads 12, 12a, 12-14 and 12/1: the first number, and what follows if it is one letter.
func numberOf(text string) (number int, suffix string, ok bool) {
	m := houseNumber.FindStringSubmatch(strings.ReplaceAll(spelling.Fold(text), " ", ""))
	if m == nil {
		return 0, "", false
	}
	number, _ = strconv.Atoi(m[1])
	if len(m[2]) == 1 {
		suffix = m[2]
	}
	return number, suffix, number > 0
}

func (w *writing) write() error {
	streets, err := w.tx.PrepareContext(w.ctx, "INSERT INTO streets (id, name, place, lat, lon, is_place, words) VALUES (?,?,?,?,?,?,?)")
	if err != nil {
		return err
	}
	houses, err := w.tx.PrepareContext(w.ctx, "INSERT INTO houses (street, number, suffix, lat, lon) VALUES (?,?,?,?,?)")
	if err != nil {
		return errors.Join(err, streets.Close())
	}
	defer func() { _, _ = streets.Close(), houses.Close() }()
	for _, e := range w.order {
		slices.Sort(e.words)
		if _, err := streets.ExecContext(w.ctx, e.id, e.name, e.place, e.at.Lat, e.at.Lon, e.isPlace, strings.Join(e.words, " ")); err != nil {
			return err
		}
		for _, h := range e.houses {
			if _, err := houses.ExecContext(w.ctx, e.id, h.number, h.suffix, h.at.Lat, h.at.Lon); err != nil {
				return err
			}
		}
	}
	return nil
}
