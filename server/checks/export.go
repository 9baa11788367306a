package checks

import (
	"slices"
	"strconv"
	"time"

	"iter.example/iter/core/money"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/unit"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
	"iter.example/iter/server/table"
)

// The columns of the files. They are only ever added to, at the end.
var (
	AnswerColumns = []string{"visit", "work_order", "date", "customer", "site", "asset", "sheet", "version", "section", "item",
		"item_name", "question", "kind", "text", "value", "words", "unit", "amount", "note", "at", "person", "begun", "done",
		"score_percent"}
	ReadingColumns = []string{"visit", "work_order", "date", "customer", "site", "asset", "kind", "point", "name", "value", "unit",
		"as_read", "as_read_unit", "level", "doubt", "change", "instrument", "at", "person"}
)

// Range is the days that a file is of, both included.
type Range struct {
	From string `form:"from" json:"from"` // 2006-01-02
	To   string `form:"to" json:"to"`
}

// maxDays is the longest range of a file.
const maxDays = 800

// Check says why there is no file of a range.
func (r Range) Check() error {
	from, err := time.Parse(time.DateOnly, r.From)
	to, err2 := time.Parse(time.DateOnly, r.To)
	if err != nil || err2 != nil || to.Before(from) || to.Sub(from) > maxDays*24*time.Hour {
		return msg.New("export.range")
	}
	return nil
}

// Answers gives the answers of the visits planned in a range, of one sheet or of all (""): those that count, computed ones too.
func Answers(tx *store.Tx, r Range, only string, now time.Time) (table.Table, error) {
	out := table.Table{Columns: AnswerColumns}
	company, _, err := tx.Company(now)
	if err != nil {
		return out, err
	}
	ids, err := tx.VisitsBetween(r.From, r.To)
	if err != nil {
		return out, err
	}
	for _, id := range ids {
		var v work.Visit
		var o work.Order
		if _, err := tx.Load("visit", id, &v); err != nil {
			return out, err
		}
		if len(v.Answers) == 0 && len(v.Files) == 0 && len(v.Readings) == 0 {
			continue
		}
		if _, err := tx.Load("workorder", v.Order, &o); err != nil {
			return out, err
		}
		states, err := tx.States(v, o)
		if err != nil {
			return out, err
		}
		for _, st := range states {
			if of, _ := sheet.Split(st.Sheet); only != "" && of != only {
				continue
			}
			var s sheet.Sheet
			if _, err := tx.Load("sheet", st.Sheet, &s); err != nil {
				return out, err
			}
			out.Rows = append(out.Rows, answers(id, v, o, s, st, company.Currency)...)
		}
	}
	return out, nil
}

func answers(id string, v work.Visit, o work.Order, s sheet.Sheet, st sheet.State, in money.Currency) [][]string {
	var out [][]string
	names := map[string]string{}
	for _, it := range v.Items[st.Sheet] {
		names[it.ID] = it.Name
	}
	score := ""
	if st.Score != nil {
		score = st.Score.Percent.String()
	}
	for _, l := range st.Lines {
		q, _ := s.Find(l.Question)
		given := v.Answers[st.Sheet][sheet.Key(l.Question, l.Item)]
		if l.Value == "" && given.Note == "" {
			continue
		}
		amount := ""
		if l.Amount != nil {
			amount = in.Number(*l.Amount)
		}
		section := ""
		for _, sec := range s.Sections {
			if slices.ContainsFunc(sec.Questions, func(x sheet.Question) bool { return x.ID == q.ID }) {
				section = sec.Title
			}
		}
		value := l.Value
		if q.Kind == sheet.Signature {
			value = "" // who signed is in words; the drawing is no text
		}
		out = append(out, []string{id, o.Number, v.Start.Format(time.DateOnly), o.Customer, o.Site, o.Asset, s.ID, strconv.Itoa(s.Version),
			section, l.Item, names[l.Item], q.ID, string(q.Kind), q.Text,
			value, q.Words(l.Value), q.Unit, amount, given.Note, moment(given.At), given.Person, moment(st.Begun), moment(st.Done), score})
	}
	return out
}

func moment(t time.Time) string {
	if t.IsZero() {
		return ""
	}
	return t.Format(time.RFC3339)
}

// Readings gives the readings of the visits planned in a range, in the company's units and as they were read.
func Readings(tx *store.Tx, r Range) (table.Table, error) {
	out := table.Table{Columns: ReadingColumns}
	all, err := tx.MeasuredBetween(r.From, r.To)
	if err != nil {
		return out, err
	}
	last := map[string]reading.Result{}
	for _, m := range all {
		var v work.Visit
		var o work.Order
		var a records.Asset
		var k records.AssetKind
		for _, d := range []struct {
			typ, id string
			into    any
		}{{"visit", m.Visit, &v}, {"asset", m.Asset, &a}} {
			if _, err := tx.Load(d.typ, d.id, d.into); err != nil {
				return out, err
			}
		}
		if _, err := tx.Load("workorder", v.Order, &o); err != nil {
			return out, err
		}
		if a.Kind != "" {
			if _, err := tx.Load("assetkind", a.Kind, &k); err != nil {
				return out, err
			}
		}
		row := []string{m.Visit, o.Number, v.Start.Format(time.DateOnly), o.Customer, o.Site, m.Asset, a.Kind, m.Point, m.Point,
			m.Value.String(), m.Unit, m.Value.String(), m.Unit, string(m.Level), string(m.Doubt), "", m.From, moment(m.At), m.Person}
		if p, ok := reading.Find(k.PointsOf(a), m.Point); ok {
			now := result(m)
			row[8] = p.Name
			if d, ok := now.In(p.Unit); ok && m.Unit != p.Unit {
				row[9], row[10] = d.String(), p.Unit
			}
			key := m.Asset + " " + m.Point
			if was, ok := last[key]; ok {
				if d, ok := p.Moved(was, now); ok {
					row[15] = unit.Shown(d).String()
				}
			}
			last[key] = now
		}
		out.Rows = append(out.Rows, row)
	}
	return out, nil
}
