// Package sheettest makes check sheets for tests.
package sheettest

import (
	"fmt"
	"math/rand"

	"iter.example/iter/core/formula/parse"
	"iter.example/iter/core/sheet"
)

// Program parses the formulas of a sheet, as the server does when it is published. A formula that does not read panics.
func Program(s sheet.Sheet) sheet.Sheet {
	for i := range s.Sections {
		for j := range s.Sections[i].Questions {
			if q := &s.Sections[i].Questions[j]; q.Formula != "" {
				n, err := parse.Text(q.Formula)
				if err != nil {
					panic(q.Formula)
				}
				q.Program = &n
			}
		}
	}
	return s
}

// Random makes a sheet whose questions depend on one another without a circle, and answers to it: hidden ones, unreadable ones and
// divisions by zero among them.
func Random(r *rand.Rand) (sheet.Sheet, sheet.Given) {
	s := sheet.Sheet{ID: "r", Version: 1 + r.Intn(1000000), Title: "R"}
	g := sheet.Given{Answers: map[string]sheet.Answer{}}
	var ids []string
	for i := range 1 + r.Intn(4) {
		sec := sheet.Section{ID: fmt.Sprintf("s%d", i), Title: fmt.Sprint(i)}
		items := []string{""}
		if r.Intn(2) == 0 {
			sec.Repeat = &sheet.Repeat{Noun: "room"}
			items = []string{"a", "b"}
			for _, id := range items {
				g.Items = append(g.Items, sheet.Item{Section: sec.ID, ID: id, Name: id})
			}
		}
		for range 1 + r.Intn(6) {
			q := sheet.Question{ID: fmt.Sprintf("q%d", len(ids)+1), Text: "?", Required: r.Intn(2) == 0}
			if len(ids) > 0 && r.Intn(2) == 0 {
				of := func() string { return ids[r.Intn(len(ids))] }
				q.Kind = sheet.Computed
				q.Formula = []string{"sum(%s) * 2 + %d", "mean(%s) / %d", "count(%s) + %d", "max(%s) / (sum(" + of() + ") - %d)"}[r.Intn(4)]
				q.Formula, q.Places = fmt.Sprintf(q.Formula, of(), len(ids)), r.Intn(4)
			} else {
				q.Kind = sheet.Number
				for _, it := range items {
					if r.Intn(2) == 0 {
						g.Answers[sheet.Key(q.ID, it)] = sheet.Answer{Value: []string{"0", "1", "3.25", "7", "-2", "9", "lots"}[r.Intn(7)]}
					}
				}
			}
			if len(ids) > 0 && r.Intn(2) == 0 {
				q.ShowIf = &sheet.Condition{Any: r.Intn(2) == 0}
				for range 1 + r.Intn(2) {
					q.ShowIf.Tests = append(q.ShowIf.Tests, sheet.Test{Question: ids[r.Intn(len(ids))],
						Is: []sheet.Is{sheet.Above, sheet.AtMost, sheet.Answered, sheet.Empty}[r.Intn(4)]})
					if t := &q.ShowIf.Tests[len(q.ShowIf.Tests)-1]; t.Is == sheet.Above || t.Is == sheet.AtMost {
						t.Value = fmt.Sprint(r.Intn(5))
					}
				}
			}
			ids = append(ids, q.ID)
			sec.Questions = append(sec.Questions, q)
		}
		s.Sections = append(s.Sections, sec)
	}
	return Program(s), g
}
