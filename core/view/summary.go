package view

import (
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/work"
)

// scope is how much of a visit a summary is of.
type scope struct {
	until   time.Time // hours count up to here
	day     string    // only what was done on this date; "": all of it
	version int       // of the summary: what was signed before is compared with what was shown then
	ended   bool      // how the visit ended is in it: what was signed before the end is not changed by it
}

// on tells whether a moment is within the scope.
func (s scope) on(at time.Time) bool { return s.day == "" || at.Format(time.DateOnly) == s.day }

// SummaryOf gives what a signer is shown of a visit now, of one day of it (2006-01-02) or of all, with its digest. wanted is as with Of.
func SummaryOf(id string, docs Documents, now time.Time, day string) (s signoff.Summary, digest string, wanted []ledger.Ref, err error) {
	b := &builder{docs: docs}
	v := b.visit(id, now)
	if v == nil || b.err != nil || len(b.wanted) > 0 {
		return s, "", b.wanted, b.err
	}
	s, digest, err = b.summary(v, scope{until: now, day: day, version: signoff.Version, ended: v.Visit.Stage == work.Finished})
	return s, digest, nil, err
}

// hours are those of all who were on the visit, within the scope.
func (b *builder) hours(v *Visit, s scope) labor.Hours {
	var h labor.Hours
	for _, c := range b.crew(v.ID, v.Visit, s.until) {
		var spans []labor.Span
		for _, span := range c.Spans {
			if s.day != "" {
				day, err := time.ParseInLocation(time.DateOnly, s.day, span.Start.Location())
				if err != nil {
					continue
				}
				if next := day.AddDate(0, 0, 1); span.End.After(next) {
					span.End = next
				}
				if span.Start.Before(day) {
					span.Start = day
				}
				if !span.End.After(span.Start) {
					continue
				}
			}
			spans = append(spans, span)
		}
		h = h.Plus(labor.Total(spans, v.ID))
	}
	return h
}

// summary is what a signer is shown of the visit.
func (b *builder) summary(v *Visit, in scope) (signoff.Summary, string, error) {
	s := signoff.Summary{
		Order: v.Order.Number, Customer: v.Customer.Name, Site: v.Site.Name, Problem: v.Order.Problem,
		Person: v.Names[v.Visit.Technician], Until: in.until, Hours: b.hours(v, in),
		Notes: []string{}, Parts: b.partLines(v, in), Readings: []signoff.Line{}, Answers: []signoff.Line{},
	}
	if v.Asset != nil {
		s.Asset = v.Asset.Name
	}
	for _, n := range v.Visit.Notes {
		if !n.Struck && in.on(n.At) && (in.version < 2 || !n.Office) {
			s.Notes = append(s.Notes, n.Text)
		}
	}
	for _, r := range v.Readings {
		if r.Struck || !in.on(r.At) {
			continue
		}
		line := signoff.Line{Name: r.AssetName + ": " + r.PointName, Value: r.Value.String(), Unit: r.Unit}
		if r.Level != reading.OK {
			line.Mark = string(r.Level)
		}
		s.Readings = append(s.Readings, line)
	}
	for _, f := range b.filled {
		s.Answers = append(s.Answers, f.lines(v.Visit.Answers[f.State.Sheet], in)...)
	}
	if in.version >= 2 {
		s.V, s.Day, s.Tasks, s.Advice = in.version, in.day, taskLines(v, in), b.adviceLines(v, in)
		if in.ended {
			s.Outcome = string(v.Visit.Outcome)
		}
	}
	d, err := signoff.Digest(s)
	return s, d, err
}

// rulesOn are the rules of the day until which a summary goes: those that it was signed by.
func (b *builder) rulesOn(in scope) work.VisitSettings {
	rules, err := ledger.SettingsOn[work.VisitSettings](b.document, in.until.Format(time.DateOnly))
	b.note(err)
	return rules
}

// taskLines are the order's tasks as they stood after this visit.
func taskLines(v *Visit, in scope) []signoff.Line {
	out := []signoff.Line{}
	for _, t := range v.Order.AllTasks() {
		line := signoff.Line{Name: t.Name}
		for _, s := range v.Order.TaskSteps {
			if s.Task == t.ID && s.Visit == v.ID && !s.Struck && s.Act != work.TaskStarted && in.on(s.At) {
				line.Mark = string(s.Act)
			}
		}
		if line.Mark != "" {
			out = append(out, line)
		}
	}
	return out
}

// adviceLines are what was recommended, line by line, with what was said to it.
func (b *builder) adviceLines(v *Visit, in scope) []signoff.Line {
	out := []signoff.Line{}
	rules := b.rulesOn(in)
	for _, a := range v.Visit.Proposals {
		if a.Struck || a.Kind != work.Recommendation || !in.on(a.At) {
			continue
		}
		out = append(out, signoff.Line{Name: a.Text})
		for _, l := range a.Lines {
			line := signoff.Line{Name: l.Text, Value: l.Quantity.String(), Unit: l.Unit, Mark: string(l.Answer)}
			if rules.Prices && l.Price != nil {
				line.Price = b.company.Currency.Text(*l.Price)
			}
			out = append(out, line)
		}
	}
	return out
}
