package labor

import (
	"slices"
	"sort"
	"time"

	"iter.example/iter/core/msg"
)

// Correction says what stretches of a day's time went to, whatever was stamped. Moving, adding, splitting and removing a span
// are all this: to move one is to say that where it was is one's own time, and where it is now is its.
type Correction struct {
	Entry  string    `json:"entry"`
	At     time.Time `json:"at"`
	By     string    `json:"by"` // who made it
	Pieces []Piece   `json:"pieces"`
	Reason string    `json:"reason"`
	Office bool      `json:"office,omitempty"` // made by the office
	Standing
}

// Piece is a stretch of time and what it went to. Start is included, End is not.
type Piece struct {
	What
	Start time.Time `json:"start"`
	End   time.Time `json:"end"`
}

// maxPieces is the most that one correction says.
const maxPieces = 20

// CheckPieces says what is wrong with the pieces of a correction made at a moment: they are of one local date, in the past,
// and do not overlap.
func CheckPieces(pieces []Piece, date string, made time.Time) error {
	if len(pieces) == 0 || len(pieces) > maxPieces {
		return msg.New("time.pieces")
	}
	sorted := slices.Clone(pieces)
	sort.Slice(sorted, func(i, j int) bool { return sorted[i].Start.Before(sorted[j].Start) })
	for i, p := range sorted {
		last := p.End.Add(-time.Nanosecond)
		switch {
		case !slices.Contains(Spanning, p.Kind):
			return msg.New("time.kind")
		case !p.Start.Before(p.End):
			return msg.New("time.backwards")
		case p.Start.Format(time.DateOnly) != date || last.Format(time.DateOnly) != date:
			return msg.New("time.other_day", "date", date)
		case p.End.After(made):
			return msg.New("time.not_yet")
		case i > 0 && p.Start.Before(sorted[i-1].End):
			return msg.New("time.overlapping")
		case p.Kind == Indirect && p.Code == "":
			return msg.New("time.code")
		}
	}
	return nil
}

// Correct puts a correction on the card, once.
func (c *Timecard) Correct(x Correction) {
	if c.Has(x.Entry) {
		return
	}
	x.Late = c.Approved != nil
	c.Corrections = append(c.Corrections, x)
	sortCorrections(c.Corrections)
}

func sortCorrections(x []Correction) {
	sort.SliceStable(x, func(i, j int) bool { return before(x[i].At, x[i].Entry, x[j].At, x[j].Entry) })
}
