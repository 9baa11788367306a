package hours

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"fmt"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/server/company"
	"iter.example/iter/server/standin"
	"iter.example/iter/server/store"
)

// Payroll writes the approved days of a range as CSV: a line for each person and day, hours as decimals with four places.
func Payroll(tx *store.Tx, r Range, now time.Time) ([]byte, error) {
	people, err := worked(tx, r, now, nil)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	_ = w.Write([]string{"person", "name", "date", "clocked_hours", "unpaid_hours", "normal_hours", "overtime_hours", "double_hours",
		"approved_by", "approved_at"})
	for _, p := range people {
		for _, d := range p.days {
			if d.Approved == nil {
				continue
			}
			line := []string{p.id, plain(p.name), d.Date}
			for _, s := range []int64{d.Paid.Clocked, d.Paid.Unpaid, d.Paid.Normal, d.Paid.Overtime, d.Paid.Double} {
				line = append(line, decimal.NewFromInt(s).DivRound(decimal.NewFromInt(3600), 4).StringFixed(4))
			}
			_ = w.Write(append(line, d.Approved.By, d.Approved.At.Format(time.RFC3339)))
		}
	}
	w.Flush()
	return b.Bytes(), w.Error()
}

// plain keeps a spreadsheet from reading a name as a formula.
func plain(name string) string {
	if name != "" && (name[0] == '=' || name[0] == '+' || name[0] == '-' || name[0] == '@') {
		return "'" + name
	}
	return name
}

// Report is what posting did.
type Report struct {
	Days  int `json:"days"`  // posted now
	Lines int `json:"lines"` // booked now
	Open  int `json:"open"`  // not approved, and so not posted
}

// Post books the approved days of a range: each span once, however often it is asked for, and whatever failed in between. What
// was booked of a day that was opened and changed again is taken back by a line of its own.
func Post(ctx context.Context, s *store.Store, books standin.Accounting, r Range, by string, now time.Time) (Report, error) {
	var people []worker
	err := s.Read(ctx, func(tx *store.Tx) (err error) {
		people, err = worked(tx, r, now, nil)
		return err
	})
	if err != nil {
		return Report{}, err
	}
	var out Report
	for _, p := range people {
		for _, d := range p.days {
			if d.Approved == nil {
				if len(d.Spans) > 0 {
					out.Open++
				}
				continue
			}
			have, err := books.Booked(ctx, p.id, d.Date)
			if err != nil {
				return out, msg.New("accounting.unreachable")
			}
			lines := due(wanted(p.id, d), have)
			if len(lines) == 0 && !d.Posted.Before(d.Approved.At) {
				continue
			}
			if err := books.Book(ctx, lines); err != nil {
				return out, msg.New("accounting.unreachable")
			}
			if err := markPosted(ctx, s, p.id, d, by, now); err != nil {
				return out, err
			}
			out.Days++
			out.Lines += len(lines)
		}
	}
	return out, nil
}

// wanted are the lines that a day's spans come to, by span.
func wanted(person string, d Day) []standin.Line {
	var out []standin.Line
	for _, s := range d.Spans {
		if s.Kind == labor.Off {
			continue
		}
		sum := sha256.Sum256(fmt.Appendf(nil, "%d %d %s %s %s %s", s.Start.UnixMilli(), s.End.UnixMilli(), s.Kind, s.Visit, s.Task, s.Code))
		out = append(out, standin.Line{Span: hex.EncodeToString(sum[:8]), Person: person, Date: d.Date, Start: s.Start, End: s.End,
			Kind: string(s.Kind), Code: s.Code,
			Order: d.Visits[s.Visit].Number, Visit: s.Visit, Task: s.Task, Seconds: s.Seconds()})
	}
	return out
}

// due compares what a day comes to with what is booked: new lines for spans that are not in the books, and lines that take back
// those that are no longer there. A line's id says which of the lines about its span it is, so that it is booked once.
func due(want, have []standin.Line) []standin.Line {
	count, sum, last := map[string]int{}, map[string]int64{}, map[string]standin.Line{}
	for _, l := range have {
		count[l.Span]++
		sum[l.Span] += l.Seconds
		if l.Seconds >= 0 {
			last[l.Span] = l
		}
	}
	id := func(l standin.Line) string {
		return fmt.Sprintf("%s %s %s %d", l.Person, l.Date, l.Span, count[l.Span])
	}
	var out []standin.Line
	wanted := map[string]bool{}
	for _, l := range want {
		wanted[l.Span] = true
		if sum[l.Span] == 0 && l.Seconds > 0 {
			l.ID = id(l)
			out = append(out, l)
		}
	}
	for _, h := range have {
		if l := last[h.Span]; !wanted[h.Span] && sum[h.Span] != 0 {
			wanted[h.Span] = true // once
			l.Seconds = -sum[h.Span]
			l.ID = id(l)
			out = append(out, l)
		}
	}
	return out
}

func markPosted(ctx context.Context, s *store.Store, person string, d Day, by string, now time.Time) error {
	return s.Write(ctx, func(tx *store.Tx) error {
		c, _, err := tx.Company(now)
		if err != nil {
			return err
		}
		w := company.Writer{Tx: tx, Now: now, Cause: d.Approved.At.UTC().Format(time.RFC3339Nano)}
		_, err = w.Append("day.posted", card(person, d.Date), by, c.Zone.In(now.Truncate(time.Millisecond)), ledger.Nothing{}, nil)
		return err
	})
}
