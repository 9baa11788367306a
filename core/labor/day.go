package labor

import (
	"cmp"
	"slices"
	"sort"
	"time"

	"iter.example/iter/core/ordered"
)

// Trouble is a kind of exception: something about a day that a person should look at before it is paid.
type Trouble string

const (
	MissingEnd      Trouble = "missing_end"      // a clock ran on after the day
	Overlap         Trouble = "overlap"          // clocked by two, and nobody said which holds
	LongSpan        Trouble = "long_span"        // too long to be believed
	Gap             Trouble = "gap"              // time between spans that nothing accounts for
	ClockError      Trouble = "clock_error"      // a stamp whose time can't be right
	EndUnconfirmed  Trouble = "end_unconfirmed"  // an end that somebody else set, not yet confirmed
	CorrectionWaits Trouble = "correction_waits" // a correction the office has not approved
	LateStamp       Trouble = "late_stamp"       // heard of, or struck out, after the day was approved: that does not count yet
)

// Values lists the kinds, for generated types.
func (Trouble) Values() []string {
	return []string{string(MissingEnd), string(Overlap), string(LongSpan), string(Gap), string(ClockError), string(EndUnconfirmed),
		string(CorrectionWaits), string(LateStamp)}
}

// Exception is a trouble with where it lies.
type Exception struct {
	Trouble Trouble   `json:"trouble"`
	Start   time.Time `json:"start"`
	End     time.Time `json:"end,omitzero"`
	Entry   string    `json:"entry,omitempty"` // of the stamp or correction that it is about
	Visit   string    `json:"visit,omitempty"`
}

// Stretch is time that nothing accounts for.
type Stretch struct {
	Start time.Time `json:"start"`
	End   time.Time `json:"end"`
}

// Day is one person's one day, as far as it has come.
type Day struct {
	Date        string       `json:"date"`
	Began       time.Time    `json:"began,omitzero"` // when the day was said to begin
	Ended       time.Time    `json:"ended,omitzero"` // and to end
	Spans       []Span       `json:"spans"`
	Gaps        []Stretch    `json:"gaps"`
	Hours       Hours        `json:"hours"`
	Paid        Paid         `json:"paid"`
	Exceptions  []Exception  `json:"exceptions"`
	Stamps      []Stamp      `json:"stamps"`
	Corrections []Correction `json:"corrections"`
	Lengths     []Length     `json:"lengths"`
	Approved    *Approval    `json:"approved,omitempty"`
	Posted      time.Time    `json:"posted,omitzero"`

	between []Stretch // from an end of the day to its next beginning
}

// Defaults where rules do not say.
const (
	longSpan = 12 * 60 // minutes
	longGap  = 15
)

// Days works out the days of one person from their cards, as they stood at now: every date that has a card or a span. For the
// week's overtime the cards go back to a Monday.
func Days(now time.Time, zone Zone, rules []Rules, cards ...Timecard) []Day {
	now = moment(now, cards)
	spans, overlaps := derive(now, cards)
	whole := spans
	spans = Split(spans, zone)
	paid := Pay(spans, zone, rules)
	byDate := map[string]*Day{}
	day := func(date string) *Day {
		d := byDate[date]
		if d == nil {
			d = &Day{Date: date, Spans: []Span{}, Gaps: []Stretch{}, Exceptions: []Exception{}, Stamps: []Stamp{},
				Corrections: []Correction{}, Lengths: []Length{}, Paid: Paid{Why: []Why{}}}
			byDate[date] = d
		}
		return d
	}
	dateOf := func(t time.Time) string { return zone.In(t).Format(time.DateOnly) }
	for _, c := range cards {
		d := day(c.Date)
		d.Stamps = append(d.Stamps, c.Stamps...)
		d.Corrections = append(d.Corrections, c.Corrections...)
		d.Lengths = append(d.Lengths, c.Lengths...)
		d.Approved, d.Posted = c.Approved, c.Posted
	}
	for _, s := range spans {
		d := day(dateOf(s.Start))
		d.Spans = append(d.Spans, s)
	}
	today := dateOf(now)
	for _, s := range whole {
		date := dateOf(s.Start)
		long := s.End.Sub(s.Start) > time.Duration(cmp.Or(On(rules, date).LongSpan, longSpan))*time.Minute
		trouble := LongSpan
		if s.Open && (long || date < today) {
			trouble = MissingEnd
		} else if !long {
			continue
		}
		d := day(date)
		d.Exceptions = append(d.Exceptions, Exception{trouble, s.Start, s.End, s.From, s.Visit})
	}
	for _, o := range Split(overlaps, zone) {
		d := day(dateOf(o.Start))
		d.Exceptions = append(d.Exceptions, Exception{Overlap, o.Start, o.End, o.From, o.Visit})
	}
	out := make([]Day, 0, len(byDate))
	for date, d := range byDate {
		d.Hours = Total(d.Spans, "")
		if p, ok := paid[date]; ok {
			d.Paid = p
		}
		d.bound()
		d.Gaps = append(d.Gaps, d.gaps(now)...)
		d.judge(On(rules, date))
		out = append(out, *d)
	}
	sort.Slice(out, func(i, j int) bool { return out[i].Date < out[j].Date })
	return out
}

// bound finds when the day was said to begin and end.
func (d *Day) bound() {
	for _, s := range d.Stamps {
		switch {
		case !s.counts():
		case s.Kind == DayStart && d.Began.IsZero():
			d.Began = s.At
		case s.Kind == DayStart && !d.Ended.IsZero(): // begun again after it was ended
			d.between = append(d.between, Stretch{d.Ended, s.At})
			d.Ended = time.Time{}
		case s.Kind == DayEnd:
			d.Ended = s.At
		}
	}
}

// gaps are what is not accounted for between the beginning of the day, or its first span, and its end, or its last.
func (d *Day) gaps(now time.Time) (out []Stretch) {
	at := d.Began
	until := func(start, end time.Time) {
		if !at.IsZero() && start.Sub(at) >= time.Minute {
			out = append(out, Stretch{at, start})
		}
		at = latest(at, end)
	}
	between := d.between
	for _, s := range d.Spans {
		for len(between) > 0 && !between[0].Start.After(s.Start) {
			until(between[0].Start, between[0].End)
			between = between[1:]
		}
		until(s.Start, s.End)
	}
	for _, b := range between {
		until(b.Start, b.End)
	}
	if end := earliest(d.Ended, now); !d.Ended.IsZero() && !at.IsZero() && end.Sub(at) >= time.Minute {
		out = append(out, Stretch{at, end})
	}
	return out
}

// judge lists the day's exceptions, in order of time.
func (d *Day) judge(r Rules) {
	gap := time.Duration(cmp.Or(r.Gap, longGap)) * time.Minute
	add := func(t Trouble, start, end time.Time, entry, visit string) {
		d.Exceptions = append(d.Exceptions, Exception{t, start, end, entry, visit})
	}
	for _, g := range d.Gaps {
		if g.End.Sub(g.Start) >= gap {
			add(Gap, g.Start, g.End, "", "")
		}
	}
	for _, s := range d.Stamps {
		if s.Unconfirmed && !s.Struck && !Confirmed(s, d.Stamps) {
			add(EndUnconfirmed, s.At, time.Time{}, s.Entry, s.Visit)
		}
		if s.waits() {
			add(LateStamp, s.At, time.Time{}, s.Entry, s.Visit)
		}
	}
	for _, x := range d.Corrections {
		switch {
		case x.waits():
			add(LateStamp, x.Pieces[0].Start, time.Time{}, x.Entry, "")
		case !x.Struck && !x.Office && d.Approved == nil:
			add(CorrectionWaits, x.Pieces[0].Start, x.Pieces[len(x.Pieces)-1].End, x.Entry, "")
		}
	}
	for _, x := range d.Lengths {
		if x.waits() {
			add(LateStamp, x.At, time.Time{}, x.Entry, x.Visit)
		}
	}
	ordered.Stable(d.Exceptions, func(a, b Exception) int { return a.Start.Compare(b.Start) })
}

// Overlapping tells whether a card has time that was clocked twice, once by the person and once for them.
func Overlapping(c Timecard) bool {
	own := func(s Stamp) bool { return s.By == "" }
	if !slices.ContainsFunc(c.Stamps, own) || !slices.ContainsFunc(c.Stamps, func(s Stamp) bool { return !own(s) }) {
		return false
	}
	_, overlaps := derive(c.Stamps[len(c.Stamps)-1].At.Add(time.Second), []Timecard{c})
	return len(overlaps) > 0
}
