package plan

import (
	"encoding/binary"
	"math"

	"iter.example/iter/core/msg"
)

// Table is how long the ways between places take, by their numbers: what a board brings along as bytes.
type Table struct {
	n     int
	cells []byte
}

// Each cell is the seconds on free roads and those on ferries, two bytes each with the low one first; the largest is a way nobody knows.
const (
	cellBytes = 4
	noWay     = math.MaxUint16
)

// NewTable makes a table of so many places, in which no way is known.
func NewTable(n int) Table {
	t := Table{n, make([]byte, n*n*cellBytes)}
	for i := range t.cells {
		t.cells[i] = 0xff
	}
	return t
}

// Grown is a table with so many places more, the ways of which are not known yet.
func (t Table) Grown(more int) Table {
	out := NewTable(t.n + more)
	for from := range t.n {
		copy(out.cells[from*out.n*cellBytes:], t.cells[from*t.n*cellBytes:(from+1)*t.n*cellBytes])
	}
	return out
}

// ReadTable takes a table of so many places as Bytes gives it.
func ReadTable(n int, cells []byte) (Table, error) {
	if len(cells) != n*n*cellBytes {
		return Table{}, msg.New("plan.table")
	}
	return Table{n, cells}, nil
}

// Bytes are the cells, row by row: from the first place to all, from the second, and so on.
func (t Table) Bytes() []byte { return t.cells }

// Put says how many seconds the way from a place to another takes, and how many of them on ferries. What takes longer than cells hold
// stays unknown.
func (t Table) Put(from, to, seconds, ferry int) {
	road := seconds - ferry
	if road < 0 || road >= noWay || ferry < 0 || ferry >= noWay {
		return
	}
	at := (from*t.n + to) * cellBytes
	binary.LittleEndian.PutUint16(t.cells[at:], uint16(road))
	binary.LittleEndian.PutUint16(t.cells[at+2:], uint16(ferry))
}

// way gives how long the way from a place to another takes, and whether one is known.
func (t Table) way(from, to int) (drive, bool) {
	if from < 0 || to < 0 || from >= t.n || to >= t.n {
		return drive{}, false
	}
	if from == to {
		return drive{}, true
	}
	at := (from*t.n + to) * cellBytes
	road := binary.LittleEndian.Uint16(t.cells[at:])
	if road == noWay {
		return drive{}, false
	}
	return drive{int(road), int(binary.LittleEndian.Uint16(t.cells[at+2:]))}, true
}

// Seconds gives how long the way from a place to another takes on free roads and ferries, and whether one is known.
func (t Table) Seconds(from, to int) (int, bool) {
	d, known := t.way(from, to)
	return d.road + d.ferry, known
}
