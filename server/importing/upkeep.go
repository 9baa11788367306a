package importing

import (
	"strconv"
	"strings"
	"time"

	"iter.example/iter/core/calendar/recurrence"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
)

// refs reads ids of records that must be there, apart by semicolons.
func (r *row) refs(column, typ string) (out []string) {
	all := r.values[column]
	for _, id := range r.list(column) {
		r.values[column] = id
		out = append(out, r.ref(column, typ))
	}
	r.values[column] = all
	return out
}

// number reads a whole number from 0 on, 0 when there is none.
func (r *row) number(column string, most int) int {
	v := r.values[column]
	if v == "" {
		return 0
	}
	n, err := strconv.Atoi(v)
	if err != nil || n < 0 || n > most {
		r.bad(column, "a whole number from 0 to "+strconv.Itoa(most), v)
	}
	return n
}

// day reads a date.
func (r *row) day(column string) string {
	v := r.values[column]
	if _, err := time.Parse(time.DateOnly, v); v != "" && err != nil {
		r.bad(column, "a date such as 2026-06-30", v)
	}
	return v
}

func readAgreement(r *row) error {
	ref := ledger.Ref{Type: "agreement", ID: r.id("number")}
	var a work.Agreement
	if err := r.load(ref, &a); err != nil {
		return err
	}
	a.Customer, a.Name, a.Assets = r.ref("customer", "customer"), r.values["name"], r.refs("assets", "asset")
	if a.From, a.To = r.day("from"), r.day("to"); a.To != "" && a.To < a.From {
		r.bad("to", "a date that is not before from", a.To)
	}
	if r.failed {
		return nil
	}
	if err := a.Check(); err != nil {
		r.bad("number", "an agreement without faults ("+err.Error()+")", ref.ID)
		return nil
	}
	return r.put(ref, &a)
}

func readPlan(r *row) error {
	ref := ledger.Ref{Type: "upkeep", ID: r.id("number")}
	var p upkeep.Plan
	if err := r.load(ref, &p); err != nil {
		return err
	}
	p.Name, p.Problem, p.Kind, p.Tasks, p.Skills = r.values["name"], r.values["problem"], r.values["kind"], r.list("tasks"), r.list("skills")
	p.Minutes = r.number("minutes", work.MaxMinutes)
	p.Assets, p.Site, p.Agreement = r.refs("assets", "asset"), r.ref("site", "site"), r.ref("agreement", "agreement")
	p.Begin, p.End = r.day("begin"), r.day("end")
	p.Before, p.After, p.Ahead = r.number("before", 400), r.number("after", 400), r.number("ahead", 400)
	v := strings.ToLower(r.values["from_last"])
	if p.FromLast = v == "yes"; v != "" && v != "yes" && v != "no" {
		r.bad("from_last", "yes or no", r.values["from_last"])
	}
	if p.Counter = nil; r.values["counter"] != "" {
		p.Counter = &upkeep.Counter{Point: r.id("counter")}
		if every := r.decimal("every"); every != nil {
			p.Counter.Every = *every
		}
	}
	if p.Rule = r.values["rule"]; p.Rule != "" && !r.failed {
		if err := recurrence.Check(p.Rule, p.Begin); err != nil {
			r.bad("rule", "a rule that gives days, such as FREQ=MONTHLY;INTERVAL=3", p.Rule)
		}
	}
	if r.failed {
		return nil
	}
	if err := p.Check(); err != nil {
		r.bad("number", "a plan without faults ("+err.Error()+")", ref.ID)
		return nil
	}
	return r.put(ref, &p)
}
