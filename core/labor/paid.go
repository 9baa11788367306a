package labor

import (
	"cmp"
	"slices"
	"strconv"
	"time"

	"iter.example/iter/core/msg"
)

// Rounding is how minutes are rounded: to the nearest increment, up or down. The zero value does not round.
type Rounding struct {
	Increment int    `json:"increment,omitempty"` // minutes
	Way       string `json:"way,omitempty"`       // nearest, up or down; nearest when left out
	On        string `json:"on,omitempty"`        // stamps or day; day when left out
}

// Rules are the terms of pay from a date on, 2006-01-02.
type Rules struct {
	From string `json:"from"`
	Terms
}

// Terms are what a company pays for. The zero value pays every clocked second but breaks, at the normal rate.
type Terms struct {
	Round Rounding `json:"round"`
	// BreakAfter and BreakMinutes: who is at work longer than so many minutes has had at least so many minutes of unpaid break. Time
	// between spans that is not clocked, as of a lunch that was clocked off for, is such a break too.
	BreakAfter   int `json:"breakAfter,omitempty"`
	BreakMinutes int `json:"breakMinutes,omitempty"`
	// HomeTravel is how many minutes of a drive from or to home are the person's own.
	HomeTravel int `json:"homeTravel,omitempty"`
	// OvertimeAfter and DoubleAfter are paid minutes of a day, WeekAfter normal minutes of a week from Monday; 0 is never.
	OvertimeAfter int `json:"overtimeAfter,omitempty"`
	DoubleAfter   int `json:"doubleAfter,omitempty"`
	WeekAfter     int `json:"weekAfter,omitempty"`
	// RestDays are days of the week, 0 for Sunday; what is worked then and on Holidays (dates) is RestPay: overtime or double.
	RestDays []int    `json:"restDays,omitempty"`
	Holidays []string `json:"holidays,omitempty"`
	RestPay  string   `json:"restPay,omitempty"`
	// LongSpan and Gap are minutes from which a span is too long to be believed, and time between spans asks for an answer.
	LongSpan int `json:"longSpan,omitempty"`
	Gap      int `json:"gap,omitempty"`
}

// Check says what terms can't be.
func (r Terms) Check() error {
	bad := !slices.Contains([]string{"", "nearest", "up", "down"}, r.Round.Way) ||
		!slices.Contains([]string{"", "stamps", "day"}, r.Round.On) ||
		!slices.Contains([]string{"", "overtime", "double"}, r.RestPay)
	for _, n := range []int{r.Round.Increment, r.BreakAfter, r.BreakMinutes, r.HomeTravel, r.OvertimeAfter, r.DoubleAfter, r.WeekAfter,
		r.LongSpan, r.Gap} {
		bad = bad || n < 0 || n > 7*24*60
	}
	for _, d := range r.RestDays {
		bad = bad || d < 0 || d > 6
	}
	if bad || r.Round.Increment > 60 {
		return msg.New("settings.pay")
	}
	return nil
}

// On gives the rules that hold on a date: the latest that begin on it or before.
func On(rules []Rules, date string) Rules {
	var out Rules
	for _, r := range rules {
		if r.From <= date && r.From >= out.From {
			out = r
		}
	}
	return out
}

// Paid is what a day's time is paid as, in seconds: Clocked + Rounded - Unpaid = Normal + Overtime + Double.
type Paid struct {
	Clocked  int64 `json:"clocked"`
	Rounded  int64 `json:"rounded"` // what rounding added
	Unpaid   int64 `json:"unpaid"`
	Normal   int64 `json:"normal"`
	Overtime int64 `json:"overtime"`
	Double   int64 `json:"double"`
	Why      []Why `json:"why"` // the rules that made it so, in order
}

// Total is all that is paid.
func (p Paid) Total() int64 { return p.Normal + p.Overtime + p.Double }

// Why is a rule that had a say in a figure: how many seconds, and by which stamps.
type Why struct {
	msg.Code
	Seconds int64    `json:"seconds"`
	Entries []string `json:"entries,omitempty"`
}

// Pay computes what each day is paid as, by date, from spans in order of time that were split at midnight. Days of a week must come
// together, from its Monday on, since overtime of a week falls on the days that end it.
func Pay(spans []Span, zone Zone, rules []Rules) map[string]Paid {
	days := map[string][]Span{}
	var dates []string
	for _, s := range spans {
		d := zone.In(s.Start).Format(time.DateOnly)
		if days[d] == nil {
			dates = append(dates, d)
		}
		days[d] = append(days[d], s)
	}
	slices.Sort(dates)
	out := map[string]Paid{}
	driven := map[drive]int64{}
	week, normal := "", int64(0)
	for _, d := range dates {
		if w := monday(d); w != week {
			week, normal = w, 0
		}
		p := payDay(d, days[d], zone, On(rules, d), normal, driven)
		normal += p.Normal
		out[d] = p
	}
	return out
}

// monday is the date on which the week of a date begins.
func monday(date string) string {
	t, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return date
	}
	return t.AddDate(0, 0, -(int(t.Weekday())+6)%7).Format(time.DateOnly)
}

// drive is one drive, however many pieces midnight and corrections have cut it into: the entry that it is from, and when it began.
type drive struct {
	from  string
	began int64 // milliseconds since 1970
}

// payDay pays one day. week is how much of its week was normal before it, own how many seconds of each drive were the person's own.
func payDay(date string, spans []Span, zone Zone, r Rules, week int64, own map[drive]int64) Paid {
	p := Paid{Why: []Why{}}
	say := func(code string, seconds int64, entries []string, args ...string) {
		if seconds != 0 {
			p.Why = append(p.Why, Why{*msg.New(code, args...), seconds, entries})
		}
	}
	minutes := func(n int) string { return strconv.Itoa(n) }
	const minute = 60

	// What was clocked, and on whole increments when each stamp is rounded.
	var all, breaks []string
	var onBreak, unpaidHome, stamped, away int64
	var until time.Time
	for _, s := range spans {
		if s.Kind == Off {
			continue
		}
		if !until.IsZero() {
			away += int64(s.Start.Sub(until) / time.Second)
		}
		until = s.End
		p.Clocked += s.Seconds()
		all = append(all, s.From)
		length := s.Seconds()
		if r.Round.On == "stamps" && r.Round.Increment > 0 {
			day := zone.Midnight(s.Start)
			length = roundStamp(s.End, day, r.Round) - roundStamp(s.Start, day, r.Round)
			stamped += length - s.Seconds()
		}
		switch {
		case s.Kind == Break:
			onBreak += length
			breaks = append(breaks, s.From)
		case s.Kind == Travel && s.Home:
			d := drive{s.From, s.began().UnixMilli()}
			seconds := min(length, max(int64(r.HomeTravel)*minute-own[d], 0))
			own[d] += seconds
			unpaidHome += seconds
			say("pay.home_travel", -seconds, []string{s.From}, "minutes", minutes(r.HomeTravel))
		}
	}
	whole := p.Clocked + stamped
	paid := whole - onBreak - unpaidHome
	p.Why = append([]Why{{*msg.New("pay.clocked"), p.Clocked, all}}, p.Why...)
	say("pay.rounded_stamps", stamped, nil, "increment", minutes(r.Round.Increment), "way", cmp.Or(r.Round.Way, "nearest"))
	say("pay.break", -onBreak, breaks)
	if r.BreakAfter > 0 && paid > int64(r.BreakAfter)*minute {
		short := min(max(int64(r.BreakMinutes)*minute-onBreak-away, 0), paid)
		say("pay.break_missing", -short, nil, "after", minutes(r.BreakAfter), "minutes", minutes(r.BreakMinutes))
		paid -= short
	}
	p.Unpaid = whole - paid
	p.Rounded = stamped
	if r.Round.On != "stamps" && r.Round.Increment > 0 {
		rounded := roundTo(paid, r.Round)
		say("pay.rounded_day", rounded-paid, nil, "increment", minutes(r.Round.Increment), "way", cmp.Or(r.Round.Way, "nearest"))
		p.Rounded += rounded - paid
		paid = rounded
	}

	// The classes of pay.
	t, err := time.Parse(time.DateOnly, date)
	rest := err == nil && slices.Contains(r.RestDays, int(t.Weekday()))
	switch {
	case rest || slices.Contains(r.Holidays, date):
		code := "pay.holiday"
		if rest {
			code = "pay.rest_day"
		}
		if r.RestPay == "double" {
			p.Double = paid
		} else {
			p.Overtime = paid
		}
		say(code, paid, nil)
		return p
	}
	p.Normal = paid
	over := func(code string, after int, to *int64, from *int64, base int64) {
		if after <= 0 {
			return
		}
		if extra := min(max(base-int64(after)*minute, 0), *from); extra > 0 {
			*from -= extra
			*to += extra
			say(code, extra, nil, "minutes", minutes(after))
		}
	}
	over("pay.double", r.DoubleAfter, &p.Double, &p.Normal, paid)
	over("pay.overtime", r.OvertimeAfter, &p.Overtime, &p.Normal, p.Normal)
	over("pay.overtime_week", r.WeekAfter, &p.Overtime, &p.Normal, week+p.Normal)
	return p
}

// roundStamp is a moment in seconds from a day's local midnight, rounded.
func roundStamp(t, day time.Time, r Rounding) int64 {
	return roundTo(int64(t.Sub(day)/time.Second), r)
}

// roundTo rounds seconds to an increment.
func roundTo(seconds int64, r Rounding) int64 {
	step := int64(r.Increment) * 60
	rest := seconds % step
	switch {
	case rest == 0:
		return seconds
	case r.Way == "up", r.Way != "down" && rest*2 >= step:
		return seconds - rest + step
	}
	return seconds - rest
}
