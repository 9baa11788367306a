package labor

import (
	"cmp"
	"slices"
	"strconv"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/money"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/ordered"
)

// Class is when time is worked, as customers pay for it.
type Class string

const (
	Normal  Class = "normal"
	Evening Class = "evening"
	Weekend Class = "weekend"
)

// Values lists the classes, for generated types.
func (Class) Values() []string { return []string{string(Normal), string(Evening), string(Weekend)} }

// Rate is what an hour costs the customer. One without a skill is for all skills that have none of their own.
type Rate struct {
	Skill string          `json:"skill,omitempty"`
	Class Class           `json:"class"`
	Hour  decimal.Decimal `json:"hour"`
}

// Billing is how a visit's time is billed. Times of day are minutes past midnight on the company's clock.
type Billing struct {
	Round   Rounding `json:"round"`             // of each person's time on the visit; on and the stamps do not matter
	Minimum int      `json:"minimum,omitempty"` // minutes billed at least
	Travel  bool     `json:"travel,omitempty"`  // whether travel is billed
	// The evening goes from EveningFrom to MorningFrom, past midnight unless it begins after it; there is none when they are the same.
	EveningFrom int    `json:"eveningFrom,omitempty"`
	MorningFrom int    `json:"morningFrom,omitempty"`
	Rates       []Rate `json:"rates,omitempty"`
	// Helper is the skill that helpers are billed as; left out, they are billed as the one who leads.
	Helper string `json:"helper,omitempty"`
	// Allowance is a fixed amount for each visit on which somebody worked.
	Allowance decimal.Decimal `json:"allowance"`
}

// Check says what billing can't be.
func (b Billing) Check() error {
	bad := b.Round.Increment < 0 || b.Round.Increment > 240 || b.Minimum < 0 || b.Minimum > 24*60 || b.Allowance.IsNegative() ||
		b.EveningFrom < 0 || b.EveningFrom > 24*60 || b.MorningFrom < 0 || b.MorningFrom > 24*60
	for _, r := range b.Rates {
		bad = bad || r.Hour.IsNegative() || !slices.Contains(r.Class.Values(), string(r.Class))
	}
	if bad {
		return msg.New("settings.billing")
	}
	return nil
}

// BillLine is a person's time of one class on a visit.
type BillLine struct {
	Person  string          `json:"person"`
	Skill   string          `json:"skill,omitempty"`
	Class   Class           `json:"class"`
	Clocked int64           `json:"clocked"` // seconds
	Billed  int64           `json:"billed"`  // seconds
	Hour    decimal.Decimal `json:"hour"`
	Amount  decimal.Decimal `json:"amount"` // rounded to the places of the currency
	Why     []Why           `json:"why"`
}

// Bill is what a visit's time is billed as.
type Bill struct {
	Lines     []BillLine      `json:"lines"`
	Allowance decimal.Decimal `json:"allowance"`
	Total     decimal.Decimal `json:"total"`
}

// Crew is one person's spans on a visit.
type Crew struct {
	Person string
	Lead   bool
	Spans  []Span
}

// Charge bills the time that a crew spent on a visit that needs a skill, in a currency.
func Charge(crew []Crew, skill string, b Billing, in money.Currency, zone Zone, rules []Rules) Bill {
	out := Bill{Lines: []BillLine{}}
	for _, c := range crew {
		as := skill
		if !c.Lead && b.Helper != "" {
			as = b.Helper
		}
		lines := map[Class]*BillLine{}
		for _, s := range Split(c.Spans, zone) {
			if s.Kind != Work && (s.Kind != Travel || !b.Travel) {
				continue
			}
			for _, part := range b.classes(s, zone, rules) {
				l := lines[part.class]
				if l == nil {
					l = &BillLine{Person: c.Person, Skill: as, Class: part.class, Hour: b.rate(as, part.class),
						Why: []Why{{Code: *msg.New("bill.clocked")}}}
					lines[part.class] = l
				}
				l.Clocked += part.seconds
				if w := &l.Why[0]; len(w.Entries) == 0 || w.Entries[len(w.Entries)-1] != s.From {
					w.Entries = append(w.Entries, s.From)
				}
			}
		}
		first := len(out.Lines)
		for _, class := range []Class{Normal, Evening, Weekend} {
			if l := lines[class]; l != nil && l.Clocked > 0 {
				l.Billed, l.Why[0].Seconds = l.Clocked, l.Clocked
				out.Lines = append(out.Lines, *l)
			}
		}
		b.round(out.Lines[first:])
	}
	b.atLeast(&out)
	for i := range out.Lines {
		l := &out.Lines[i]
		l.Amount = l.Hour.Mul(decimal.NewFromInt(l.Billed)).DivRound(decimal.NewFromInt(3600), in.Places())
		out.Total = out.Total.Add(l.Amount)
	}
	if len(out.Lines) > 0 {
		out.Allowance = b.Allowance
		out.Total = out.Total.Add(b.Allowance)
	}
	return out
}

func (l *BillLine) add(code string, seconds int64, args ...string) {
	if seconds != 0 {
		l.Why = append(l.Why, Why{Code: *msg.New(code, args...), Seconds: seconds})
	}
}

// round rounds a person's time on the visit once, whatever the classes it falls into: the longest line takes what that adds, and gives
// what it takes away, as far as it has it.
func (b Billing) round(lines []BillLine) {
	if b.Round.Increment == 0 {
		return
	}
	order, sum := make([]*BillLine, len(lines)), int64(0)
	for i := range lines {
		order[i] = &lines[i]
		sum += lines[i].Clocked
	}
	ordered.Stable(order, func(a, b *BillLine) int { return cmp.Compare(b.Clocked, a.Clocked) })
	left := roundTo(sum, b.Round) - sum
	for _, l := range order {
		by := max(left, -l.Billed)
		l.Billed += by
		l.add("bill.rounded", by, "increment", strconv.Itoa(b.Round.Increment))
		left -= by
	}
}

// atLeast lifts the longest line when all together are less than the minimum.
func (b Billing) atLeast(out *Bill) {
	longest, sum := -1, int64(0)
	for i, l := range out.Lines {
		sum += l.Billed
		if longest < 0 || l.Billed > out.Lines[longest].Billed {
			longest = i
		}
	}
	if short := int64(b.Minimum)*60 - sum; longest >= 0 && short > 0 {
		out.Lines[longest].Billed += short
		out.Lines[longest].add("bill.minimum", short, "minutes", strconv.Itoa(b.Minimum))
	}
}

// rate finds the rate of a skill and class: that of the class for all skills, or else of normal time, when it has none.
func (b Billing) rate(skill string, class Class) decimal.Decimal {
	for _, want := range []Rate{{Skill: skill, Class: class}, {Class: class}, {Skill: skill, Class: Normal}, {Class: Normal}} {
		for _, r := range b.Rates {
			if r.Skill == want.Skill && r.Class == want.Class {
				return r.Hour
			}
		}
	}
	return decimal.Zero
}

type classed struct {
	class   Class
	seconds int64
}

// classes cuts a span of one date where the class of its time changes.
func (b Billing) classes(s Span, zone Zone, rules []Rules) []classed {
	day := zone.In(s.Start)
	date := day.Format(time.DateOnly)
	if w := day.Weekday(); w == time.Saturday || w == time.Sunday || slices.Contains(On(rules, date).Holidays, date) {
		return []classed{{Weekend, s.Seconds()}}
	}
	if s.Loose {
		return []classed{{Normal, s.Seconds()}}
	}
	// The evening begins and ends on one date when it begins after midnight; else it has a part before the morning and one after.
	morning, evening := zone.Clock(s.Start, b.MorningFrom), zone.Clock(s.Start, b.EveningFrom)
	within := func(start, end time.Time) int64 {
		return max(int64(earliest(s.End, end).Sub(latest(s.Start, start))/time.Second), 0)
	}
	var late int64
	switch {
	case b.EveningFrom < b.MorningFrom:
		late = within(evening, morning)
	case b.EveningFrom > b.MorningFrom:
		late = s.Seconds() - within(morning, evening)
	}
	return []classed{{Normal, s.Seconds() - late}, {Evening, late}}
}
