package standin

import (
	"context"
	"encoding/json"
	"time"

	"iter.example/iter/server/store"
)

// Accounting books lines. Booking one twice, by its id, books it once.
type Accounting interface {
	Book(ctx context.Context, lines []Line) error
	// Booked gives the lines of a person's day.
	Booked(ctx context.Context, person, date string) ([]Line, error)
}

// Line is a stretch of somebody's time in the books. One that takes another back has negative seconds.
type Line struct {
	ID      string    `json:"id"`
	Person  string    `json:"person"`
	Date    string    `json:"date"` // 2006-01-02
	Start   time.Time `json:"start"`
	End     time.Time `json:"end"`
	Kind    string    `json:"kind"`
	Code    string    `json:"code,omitempty"`
	Order   string    `json:"order,omitempty"` // number of the work order
	Visit   string    `json:"visit,omitempty"`
	Task    string    `json:"task,omitempty"`
	Seconds int64     `json:"seconds"`
	// Span names the stretch that it books, or takes back.
	Span string `json:"span"`
}

// SimulatedAccounting keeps its books in a table.
type SimulatedAccounting struct {
	Store *store.Store
	Now   func() time.Time
}

// Book keeps lines that it does not have yet.
func (a SimulatedAccounting) Book(ctx context.Context, lines []Line) error {
	return a.Store.Write(ctx, func(tx *store.Tx) error {
		for _, l := range lines {
			raw, err := json.Marshal(l)
			if err != nil {
				return err
			}
			if err := tx.BookLine(l.ID, raw, a.Now()); err != nil {
				return err
			}
		}
		return nil
	})
}

// Booked gives the lines of a person's day.
func (a SimulatedAccounting) Booked(ctx context.Context, person, date string) (out []Line, err error) {
	err = a.Store.Read(ctx, func(tx *store.Tx) error {
		raw, err := tx.BookedLines(person, date)
		for _, r := range raw {
			var l Line
			if err := json.Unmarshal(r, &l); err != nil {
				return err
			}
			out = append(out, l)
		}
		return err
	})
	return out, err
}
