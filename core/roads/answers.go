package roads

import (
	"math"

	"iter.example/iter/core/records"
)

// Answers are the ways between some places, worked out beforehand: what a device carries, and it carries no roads.
type Answers struct {
	// Rev says of which roads and places they are.
	Rev    string          `json:"rev"`
	Source string          `json:"source"` // where the roads are from, and under which licence
	Places []records.Point `json:"places"`
	// Left are stops that no way is told of, since there are more than ways can be worked out for at once: those of later days.
	Left   []records.Point `json:"left,omitempty"`
	Pieces []Piece         `json:"pieces"`
	Known  []Known         `json:"known"`

	at map[[2]int]int // in Known, by the places; nil until somebody asks
}

// Piece is a stretch of road that ways run along.
type Piece struct {
	Name    string `json:"name"`
	Class   Class  `json:"class"`
	Metres  int    `json:"metres"`
	Seconds int    `json:"seconds"`
	// Line is in hundred-thousandths of a degree: latitude and longitude of the first point, then of each how far it is from the one before.
	Line []int32 `json:"line"`
}

// NewPiece gives a piece with its line made simple.
func NewPiece(name string, class Class, metres, seconds float64, line []records.Point) Piece {
	return Piece{Name: name, Class: class, Metres: int(math.Round(metres)), Seconds: int(math.Round(seconds)),
		Line: encode(simplified(line, simple))}
}

// Known is a way between two of the places, by their numbers, along pieces in their order.
type Known struct {
	From    int   `json:"from"`
	To      int   `json:"to"`
	Seconds int   `json:"seconds"`
	Ferry   int   `json:"ferry,omitempty"` // seconds of them, on ferries
	Metres  int   `json:"metres"`
	Pieces  []int `json:"pieces"`
}

// simple is how far the line of a piece may lie off the road, in metres.
const simple = 10

// AnswersFor works out the ways between some places: between those two, by their numbers, that wanted names.
func (r *Region) AnswersFor(places []records.Point, wanted func(from, to int) bool) *Answers {
	a := &Answers{Source: r.Source, Places: places, Pieces: []Piece{}, Known: []Known{}}
	numbers := map[run]int{}
	snapped := make([]Place, len(places))
	reached := make([]bool, len(places))
	for i, p := range places {
		snapped[i], reached[i] = r.Snap(p)
	}
	for i := range places {
		for k := range places {
			if i == k || !reached[i] || !reached[k] || !wanted(i, k) {
				continue
			}
			w, ok := r.walk(snapped[i], snapped[k])
			if !ok {
				continue
			}
			l := w.whole(w.from, w.to)
			known := Known{From: i, To: k, Seconds: l.Seconds, Ferry: l.Ferry, Metres: l.Metres, Pieces: []int{}}
			for _, s := range w.runs {
				number, have := numbers[s]
				if !have {
					number = len(a.Pieces)
					numbers[s] = number
					x := r.roads[s.road]
					a.Pieces = append(a.Pieces, NewPiece(r.names[x.name], Classes[x.class], float64(s.metres), float64(s.cost)/1000,
						r.cut(x, s.begin, s.end)))
				}
				known.Pieces = append(known.Pieces, number)
			}
			a.Known = append(a.Known, known)
		}
	}
	return a
}

// same is how near two points are that are one place, in degrees: a few centimetres.
const same = 1e-6

func (a *Answers) place(p records.Point) int {
	for i, q := range a.Places {
		if math.Abs(p.Lat-q.Lat) < same && math.Abs(p.Lon-q.Lon) < same {
			return i
		}
	}
	return -1
}

// Ways gives the way from one place to each of several; nil where none is known, as without any answers.
func (a *Answers) Ways(from records.Point, to ...records.Point) []*Way {
	out := make([]*Way, len(to))
	if a == nil {
		return out
	}
	if a.at == nil {
		a.at = map[[2]int]int{}
		for i, k := range a.Known {
			a.at[[2]int{k.From, k.To}] = i
		}
	}
	start := a.place(from)
	for i, p := range to {
		end := a.place(p)
		if start < 0 || end < 0 {
			continue
		}
		if start == end {
			out[i] = &Way{Line: []records.Point{from, p}, Parts: []Part{}}
			continue
		}
		if k, known := a.at[[2]int{start, end}]; known {
			out[i] = a.way(a.Known[k])
		}
	}
	return out
}

// Near gives the known place that is nearest to a point, no farther than so many metres; none when there is none.
func (a *Answers) Near(p records.Point, metres float64) *records.Point {
	var best *records.Point
	if a == nil {
		return nil
	}
	for i, q := range a.Places {
		if d := Metres(p, q); d <= metres {
			best, metres = &a.Places[i], d
		}
	}
	return best
}

func (a *Answers) way(k Known) *Way {
	if k.From >= len(a.Places) || k.To >= len(a.Places) || k.From < 0 || k.To < 0 {
		return nil
	}
	w := &Way{Seconds: k.Seconds, Ferry: k.Ferry, Metres: k.Metres, Line: []records.Point{a.Places[k.From]}, Parts: []Part{}}
	for _, number := range k.Pieces {
		if number < 0 || number >= len(a.Pieces) {
			return nil
		}
		p := a.Pieces[number]
		if n := len(w.Parts); n == 0 || w.Parts[n-1].Name != p.Name || w.Parts[n-1].Class != p.Class {
			w.Parts = append(w.Parts, Part{Name: p.Name, Class: p.Class})
		}
		part := &w.Parts[len(w.Parts)-1]
		part.Metres, part.Seconds = part.Metres+p.Metres, part.Seconds+p.Seconds
		w.Line = append(w.Line, decode(p.Line)...)
	}
	w.Line = append(w.Line, a.Places[k.To])
	return w
}

const perStep = 1e5

func encode(line []records.Point) []int32 {
	out := make([]int32, 0, 2*len(line))
	var lat, lon int32
	for _, p := range line {
		y, x := int32(math.Round(p.Lat*perStep)), int32(math.Round(p.Lon*perStep))
		out = append(out, y-lat, x-lon)
		lat, lon = y, x
	}
	return out
}

func decode(line []int32) []records.Point {
	out := make([]records.Point, 0, len(line)/2)
	var lat, lon int32
	for i := 0; i+1 < len(line); i += 2 {
		lat, lon = lat+line[i], lon+line[i+1]
		out = append(out, records.Point{Lat: float64(lat) / perStep, Lon: float64(lon) / perStep})
	}
	return out
}

// simplified leaves out points of a line that lie no farther than so many metres off it without them (Douglas and Peucker, 1973).
func simplified(line []records.Point, metres float64) []records.Point {
	if len(line) < 3 {
		return line
	}
	first, last := line[0], line[len(line)-1]
	far, at := metres, -1
	for i := 1; i < len(line)-1; i++ {
		if d := off(line[i], first, last); d > far {
			far, at = d, i
		}
	}
	if at < 0 {
		return []records.Point{first, last}
	}
	begin := simplified(line[:at+1], metres)
	return append(begin[:len(begin)-1:len(begin)-1], simplified(line[at:], metres)...)
}

// off is how far a point lies off a straight line, in metres.
func off(p, a, b records.Point) float64 {
	scale := math.Cos(p.Lat * math.Pi / 180)
	ax, ay := (a.Lon-p.Lon)*scale*degree, (a.Lat-p.Lat)*degree
	dx, dy := (b.Lon-a.Lon)*scale*degree, (b.Lat-a.Lat)*degree
	t := 0.0
	if l := dx*dx + dy*dy; l > 0 {
		t = min(max(-(ax*dx+ay*dy)/l, 0), 1)
	}
	return math.Hypot(ax+t*dx, ay+t*dy)
}
