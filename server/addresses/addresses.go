// Package addresses looks up where something is by its address, in what an extract of open data says of places, streets and houses.
package addresses

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"math"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	_ "modernc.org/sqlite" // the driver

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/spelling"
)

// Precision is how well it is known where an address is.
type Precision string

const (
	House   Precision = "house"   // as the extract has it
	Between Precision = "between" // between two numbers that it has
	Street  Precision = "street"  // somewhere on the street
	Place   Precision = "place"   // a town or village
)

// Values lists the precisions, for generated types.
func (Precision) Values() []string {
	return []string{string(House), string(Between), string(Street), string(Place)}
}

// Found is an address that was looked up.
type Found struct {
	Address   string        `json:"address"` // in one line: number and street, place
	At        records.Point `json:"at"`
	Precision Precision     `json:"precision"`
}

// Book are the addresses of a region. Any number may ask it at a time.
type Book struct {
	db    *sql.DB
	words spelling.Vocabulary
}

// Open opens a book that was written.
func Open(path string) (*Book, error) {
	db, err := sql.Open("sqlite", "file:"+(&url.URL{Path: path}).EscapedPath()+"?mode=ro&immutable=1")
	if err != nil {
		return nil, err
	}
	if err := db.Ping(); err != nil {
		return nil, errors.Join(fmt.Errorf("addresses: %w", err), db.Close())
	}
	return &Book{db: db}, nil
}

// Close lets go of the book's file.
func (b *Book) Close() error { return b.db.Close() }

// street is a street or place that was found.
type street struct {
	id             int64
	name, place    string
	words          []string
	at             records.Point
	isPlace        bool
	matched, slips int
}

const (
	// considered is how many streets are looked at.
	considered = 1000
	// mostFound is how many addresses are offered.
	mostFound = 8
	// Numbers are taken to lie between two known ones that are no farther apart than this.
	mostApart  = 60
	mostMetres = 1500
)

// houseNumber is 7, 12a or 12-14; what has more digits is a post code.
var houseNumber = regexp.MustCompile(`^(\d{1,4})([a-z]?|[-/].*)$`)

// Find looks addresses up by their words, in any order, with slips of typing, and a number of a house among them; those first that say the
// most of what was typed, and then those that are nearest to a point.
func (b *Book) Find(ctx context.Context, text string, near *records.Point) ([]Found, error) {
	number, suffix, list := parsed(text)
	if len(list) == 0 {
		return nil, nil
	}
	streets, err := b.streets(ctx, list)
	if err != nil || len(streets) == 0 {
		return nil, err
	}
	distance := func(s street) float64 {
		if near == nil {
			return 0
		}
		return roads.Metres(*near, s.at)
	}
	slices.SortStableFunc(streets, func(x, y street) int {
		return cmp.Or(cmp.Compare(y.matched, x.matched), cmp.Compare(x.slips, y.slips), cmp.Compare(distance(x), distance(y)))
	})
	var out []Found
	for _, s := range streets {
		if len(out) == mostFound || s.matched < streets[0].matched {
			break
		}
		f := Found{Address: joined(s.name, s.place), At: s.at, Precision: Street}
		switch {
		case s.isPlace:
			f.Precision = Place
		case number > 0:
			if f, err = b.house(ctx, s, number, suffix); err != nil {
				return nil, err
			}
		}
		if !slices.ContainsFunc(out, func(o Found) bool { return o.Address == f.Address && roads.Metres(o.At, f.At) < 300 }) {
			out = append(out, f)
		}
	}
	rank := []Precision{House, Between, Street, Place}
	if number > 0 {
		slices.SortStableFunc(out, func(x, y Found) int {
			return cmp.Compare(slices.Index(rank, x.Precision), slices.Index(rank, y.Precision))
		})
	}
	return out, nil
}

// parsed takes the number of a house out of what was typed.
func parsed(text string) (number int, suffix string, list []string) {
	for _, w := range strings.FieldsFunc(spelling.Fold(text), func(r rune) bool { return r == ' ' || r == ',' || r == ';' || r == '\n' }) {
		if m := houseNumber.FindStringSubmatch(w); m != nil {
			if number == 0 {
				number, _ = strconv.Atoi(m[1])
				suffix = m[2]
			}
			continue
		}
		list = append(list, spelling.Sought(w)...)
	}
	return number, suffix, list[:min(len(list), mostWords)]
}

// mostWords is how many words of an address are looked for.
const mostWords = 8

// streets gives the streets and places that have the most of some words, and at least half of them.
func (b *Book) streets(ctx context.Context, list []string) ([]street, error) {
	if err := b.words.Read(func() ([]string, error) { return b.vocabulary(ctx) }); err != nil {
		return nil, err
	}
	spellings, terms := make([][]string, len(list)), make([]string, len(list))
	for i, w := range list {
		spellings[i] = append([]string{w}, b.words.Near(w)...)
		any := []string{quoted(w)}
		if known, err := b.knows(ctx, w); err != nil {
			return nil, err
		} else if !known {
			any[0] += "*" // it may be the beginning of some: to look for those takes long where they are many
		}
		for _, s := range spellings[i][1:] {
			any = append(any, quoted(s))
		}
		terms[i] = "(" + strings.Join(any, " OR ") + ")"
	}
	// All of the words, else all but one; else any, which may be a street of every town.
	tries := []string{strings.Join(terms, " AND ")}
	if len(terms) > 2 {
		var but []string
		for i := range terms {
			but = append(but, "("+strings.Join(slices.Delete(slices.Clone(terms), i, i+1), " AND ")+")")
		}
		tries = append(tries, strings.Join(but, " OR "))
	}
	if len(terms) > 1 {
		tries = append(tries, strings.Join(terms, " OR "))
	}
	for _, match := range tries {
		out, err := b.query(ctx, match)
		if err != nil {
			return nil, err
		}
		for i := range out {
			out[i].match(list, spellings)
		}
		if out = slices.DeleteFunc(out, func(s street) bool { return 2*s.matched < len(list) }); len(out) > 0 {
			return out, nil
		}
	}
	return nil, nil
}

func quoted(w string) string { return `"` + w + `"` }

// match counts the words that a street has, and those of them that it has only with a slip.
func (s *street) match(list []string, spellings [][]string) {
	for i, w := range list {
		switch {
		case slices.Contains(s.words, w),
			utf8.RuneCountInString(w) > 1 && slices.ContainsFunc(s.words, func(x string) bool { return strings.HasPrefix(x, w) }):
			s.matched++
		case slices.ContainsFunc(s.words, func(x string) bool { return slices.Contains(spellings[i], x) }):
			s.matched++
			s.slips++
		}
	}
}

func (b *Book) query(ctx context.Context, match string) (out []street, err error) {
	rows, err := b.db.QueryContext(ctx, `SELECT s.id, s.name, s.place, s.words, s.lat, s.lon, s.is_place FROM found JOIN streets s
		ON s.id = found.rowid WHERE found MATCH ? LIMIT ?`, match, considered)
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	for rows.Next() {
		var s street
		var all string
		if err := rows.Scan(&s.id, &s.name, &s.place, &all, &s.at.Lat, &s.at.Lon, &s.isPlace); err != nil {
			return nil, err
		}
		s.words = strings.Fields(all)
		out = append(out, s)
	}
	return out, rows.Err()
}

// knows tells whether a word is in a street's.
func (b *Book) knows(ctx context.Context, w string) (known bool, err error) {
	err = b.db.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM vocabulary WHERE term = ?)", w).Scan(&known)
	return known, err
}

func (b *Book) vocabulary(ctx context.Context) (out []string, err error) {
	rows, err := b.db.QueryContext(ctx, "SELECT term FROM vocabulary")
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	for rows.Next() {
		var w string
		if err := rows.Scan(&w); err != nil {
			return nil, err
		}
		out = append(out, w)
	}
	return out, rows.Err()
}

// house gives where a number is on a street: as it is known, between two that are, or else somewhere on the street.
func (b *Book) house(ctx context.Context, s street, number int, suffix string) (Found, error) {
	rows, err := b.db.QueryContext(ctx, "SELECT number, suffix, lat, lon FROM houses WHERE street = ? AND number BETWEEN ? AND ?", s.id,
		number-mostApart, number+mostApart)
	if err != nil {
		return Found{}, err
	}
	var all []numbered
	for rows.Next() {
		var h numbered
		if err := rows.Scan(&h.number, &h.suffix, &h.at.Lat, &h.at.Lon); err != nil {
			return Found{}, errors.Join(err, rows.Close())
		}
		all = append(all, h)
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil {
		return Found{}, err
	}
	out := Found{Address: joined(fmt.Sprintf("%d%s %s", number, suffix, s.name), s.place), At: s.at, Precision: Street}
	out.At, out.Precision = where(all, number, suffix, out.At)
	return out, nil
}

// numbered is a house of a street.
type numbered struct {
	number int
	suffix string
	at     records.Point
}

// where tells where a number is among the houses of a street: most streets have odd numbers on one side and even ones on the other.
func where(all []numbered, number int, suffix string, otherwise records.Point) (records.Point, Precision) {
	var best *numbered
	for i, h := range all {
		if h.number == number && (best == nil || h.suffix == suffix) {
			best = &all[i]
		}
	}
	if best != nil {
		return best.at, House
	}
	for _, sides := range []int{2, 1} { // on its own side first
		var low, high *numbered
		for i, h := range all {
			switch {
			case (h.number-number)%sides != 0:
			case h.number < number && (low == nil || h.number > low.number):
				low = &all[i]
			case h.number > number && (high == nil || h.number < high.number):
				high = &all[i]
			}
		}
		if low == nil || high == nil || high.number-low.number > mostApart || roads.Metres(low.at, high.at) > mostMetres {
			continue
		}
		part := float64(number-low.number) / float64(high.number-low.number)
		round := func(degrees float64) float64 { return math.Round(degrees*1e6) / 1e6 }
		return records.Point{Lat: round(low.at.Lat + part*(high.at.Lat-low.at.Lat)), Lon: round(low.at.Lon + part*(high.at.Lon-low.at.Lon))},
			Between
	}
	return otherwise, Street
}

// joined is a line of what there is of its parts.
func joined(parts ...string) string {
	return strings.Join(slices.DeleteFunc(parts, func(p string) bool { return p == "" }), ", ")
}
