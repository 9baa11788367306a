// Package labor turns stamps, the moments a clock was tapped, into spans, the stretches of time between them, and spans into
// paid and billed hours.
//
// One person does one thing at a time: a stamp ends whatever ran before and begins what it names. A stop ends only what
// it belongs to, so a visit that is closed late does not stop the clock of the next one. Hours are always derived,
// never entered: a correction says what a stretch of time went to, and the stamps under it stay as they were.
package labor

import (
	"slices"
	"sort"
	"strings"
	"time"

	"iter.example/iter/core/audit"
)

// Kind is what a person's time goes to.
type Kind string

const (
	Travel   Kind = "travel"
	Work     Kind = "work"
	Wait     Kind = "wait"
	Break    Kind = "break"
	Indirect Kind = "indirect" // work for no visit: its code says what
	Off      Kind = "off"      // one's own time, said so by a correction: it counts nowhere

	// Kinds of stamps only.
	Stop     Kind = "stop"     // ends what it belongs to
	TaskEnd  Kind = "task_end" // ends work on the task it names: the work on the visit goes on
	DayStart Kind = "day_start"
	DayEnd   Kind = "day_end" // ends whatever runs
)

// Values lists the kinds, for generated types.
func (Kind) Values() []string {
	return []string{string(Travel), string(Work), string(Wait), string(Break), string(Indirect), string(Off), string(Stop),
		string(TaskEnd), string(DayStart), string(DayEnd)}
}

// Spanning are the kinds that time can go to.
var Spanning = []Kind{Travel, Work, Wait, Break, Indirect, Off}

// What is a thing that time goes to: a kind with the visit, task or code it is for.
type What struct {
	Kind  Kind   `json:"kind"`
	Visit string `json:"visit,omitempty"`
	Task  string `json:"task,omitempty"`
	Code  string `json:"code,omitempty"` // of indirect time; of a pause, its reason
	// Home tells of travel that it goes from home, or to it.
	Home bool `json:"home,omitempty"`
}

// Stamp is a moment a person's clock was tapped.
type Stamp struct {
	Entry string    `json:"entry"` // the entry that recorded it
	At    time.Time `json:"at"`
	What
	By string `json:"by,omitempty"` // who recorded it, when it was not the person
	// Unconfirmed tells of a stop that somebody else set where the work was planned to end.
	Unconfirmed bool `json:"unconfirmed,omitempty"`
	Standing
}

// Standing tells whether a stamp or correction counts. What is heard of after the day was approved changes nothing on it until the office
// opens the day again, or approves it anew.
type Standing struct {
	Late       bool `json:"late,omitempty"` // heard of after the day was approved: it does not count yet
	Struck     bool `json:"struck,omitempty"`
	StruckLate bool `json:"struckLate,omitempty"` // struck out after the day was approved: it still counts
}

// counts tells whether it counts now.
func (s Standing) counts() bool { return !s.Struck && !s.Late }

// waits tells whether something about it was heard of after the day was approved.
func (s Standing) waits() bool { return s.StruckLate || s.Late && !s.Struck }

// takeIn has what was heard of late count.
func (s *Standing) takeIn() { *s = Standing{Struck: s.Struck || s.StruckLate} }

// strike cancels it, or lets it count again, and tells whether that changed anything.
func (s *Standing) strike(struck, approved bool) bool {
	was := *s
	switch {
	case struck && approved && s.counts():
		s.StruckLate = true
	case struck:
		s.Struck = true
	case s.StruckLate:
		s.StruckLate = false
	case s.Struck:
		s.Struck, s.Late = false, s.Late || approved
	}
	return *s != was
}

// Span is a stretch of one person's time. Start is included, End is not.
type Span struct {
	What
	Start time.Time `json:"start"`
	End   time.Time `json:"end"`
	Open  bool      `json:"open,omitempty"` // still running at the moment asked for
	From  string    `json:"from"`           // entry of the stamp that began it, or of the correction that made it
	To    string    `json:"to,omitempty"`   // entry of the stamp that ended it
	By    string    `json:"by,omitempty"`   // who clocked it, when it was not the person
	// Sort is which sort of work it was, and Text what was done: of work that somebody said it of.
	Sort string `json:"sort,omitempty"`
	Text string `json:"text,omitempty"`
	// Corrected tells that a correction made it, or cut it. Loose tells that only its length was told: it lies where there was room.
	Corrected bool `json:"corrected,omitempty"`
	Loose     bool `json:"loose,omitempty"`
	// whole is when it began before it was cut; zero: it was not, or is the head of what was.
	whole time.Time
}

// begin cuts off what lies before a moment.
func (s Span) begin(at time.Time) Span {
	if s.whole.IsZero() {
		s.whole = s.Start
	}
	s.Start = at
	return s
}

// began is when what the span is a piece of began.
func (s Span) began() time.Time {
	if s.whole.IsZero() {
		return s.Start
	}
	return s.whole
}

// Seconds is the span's length.
func (s Span) Seconds() int64 { return int64(s.End.Sub(s.Start) / time.Second) }

// Timecard is one person's one day, by the date on the company's clock at the stamp.
type Timecard struct {
	Person      string       `json:"person"`
	Date        string       `json:"date"` // 2006-01-02
	Stamps      []Stamp      `json:"stamps,omitempty"`
	Corrections []Correction `json:"corrections,omitempty"`
	Lengths     []Length     `json:"lengths,omitempty"` // in order of time
	// Said is what was said of stretches of work, in order of time.
	Said []Said `json:"said,omitempty"`
	// Approved is when the office took the day as it was. From then on only the office changes it.
	Approved *Approval `json:"approved,omitempty"`
	// Posted is when its spans went to accounting.
	Posted time.Time `json:"posted,omitzero"`
	// Route is the order in which the person means to take the day's visits, when it is not the planned one.
	Route   []string     `json:"route,omitempty"`
	RouteBy audit.Moment `json:"routeBy,omitzero"` // what ordered it
	// Strikes are when what is on the card was struck out or restored last.
	Strikes audit.Strikes `json:"strikes,omitempty"`
}

// Approval says who approved a day, and when.
type Approval struct {
	At time.Time `json:"at"`
	By string    `json:"by"`
}

// Add puts a stamp on the card, once.
func (c *Timecard) Add(s Stamp) {
	for _, have := range c.Stamps {
		if have.Entry == s.Entry {
			return
		}
	}
	s.Late = c.Approved != nil
	c.Stamps = append(c.Stamps, s)
	sortStamps(c.Stamps)
}

// Has tells whether an entry stamped or corrected the card, or told a length.
func (c *Timecard) Has(entry string) bool {
	return slices.ContainsFunc(c.Stamps, func(s Stamp) bool { return s.Entry == entry }) ||
		slices.ContainsFunc(c.Corrections, func(x Correction) bool { return x.Entry == entry }) ||
		slices.ContainsFunc(c.Lengths, func(x Length) bool { return x.Entry == entry })
}

// Strike cancels the stamp, correction or length of an entry, or lets it count again, and tells whether that changed anything.
func (c *Timecard) Strike(entry string, struck bool) bool {
	for i := range c.Stamps {
		if x := &c.Stamps[i]; x.Entry == entry && x.strike(struck, c.Approved != nil) {
			return true
		}
	}
	for i := range c.Corrections {
		if x := &c.Corrections[i]; x.Entry == entry && x.strike(struck, c.Approved != nil) {
			return true
		}
	}
	for i := range c.Lengths {
		if x := &c.Lengths[i]; x.Entry == entry && x.strike(struck, c.Approved != nil) {
			return true
		}
	}
	return false
}

// Approve takes the card as it is: all that is on it counts.
func (c *Timecard) Approve(a Approval) {
	c.Reopen()
	c.Approved = &a
}

// Reopen takes the approval back, so that all that is on the card counts.
func (c *Timecard) Reopen() {
	c.Approved = nil
	for i := range c.Stamps {
		c.Stamps[i].takeIn()
	}
	for i := range c.Corrections {
		c.Corrections[i].takeIn()
	}
	for i := range c.Lengths {
		c.Lengths[i].takeIn()
	}
}

// Spans derives one person's spans from their timecards, in any order, as they stood at now. They are in order of time,
// never overlap, and leave out stretches of no length. Stamps after now do not count yet; one entry counts once.
//
// What the person clocked comes before what somebody else clocked for them, which fills only what is left; corrections come
// before both, the later before the earlier.
func Spans(now time.Time, cards ...Timecard) []Span {
	spans, _ := derive(now, cards)
	return spans
}

// derive gives the spans, and where the clocks of two people for one overlapped and nobody has said which holds.
func derive(now time.Time, cards []Timecard) (spans, overlaps []Span) {
	var own, others []Stamp
	seen := map[string]bool{}
	var corrections []Correction
	for _, c := range cards {
		for _, s := range c.Stamps {
			if !s.counts() || s.At.After(now) || seen[s.Entry] {
				continue
			}
			seen[s.Entry] = true
			if s.By == "" {
				own = append(own, s)
			} else {
				others = append(others, s)
			}
		}
		for _, x := range c.Corrections {
			if x.counts() && !seen[x.Entry] {
				seen[x.Entry] = true
				corrections = append(corrections, x)
			}
		}
	}
	// What ends the person's day or their clock on a visit, whoever stamped it, ends both clocks.
	for _, s := range own {
		if s.Kind == Stop || s.Kind == DayEnd {
			others = append(others, s)
		}
	}
	// An end that somebody else set holds until the person says when it was.
	others = slices.DeleteFunc(others, func(s Stamp) bool { return s.Unconfirmed && Confirmed(s, own) })
	for _, s := range slices.Clone(others) {
		if s.Kind == Stop && s.By != "" && !Confirmed(s, own) {
			own = append(own, s)
		}
	}
	spans = run(own, now)
	set := run(others, now) // by somebody else
	for _, o := range spans {
		for _, x := range set {
			if start, end := latest(o.Start, x.Start), earliest(o.End, x.End); start.Before(end) {
				x.Start, x.End = start, end
				overlaps = append(overlaps, x)
			}
		}
	}
	for _, o := range spans {
		set = cut(set, o.Start, o.End, false)
	}
	spans = append(spans, set...)
	sortCorrections(corrections)
	for _, x := range corrections {
		for _, p := range x.Pieces {
			overlaps = cut(overlaps, p.Start, p.End, false)
			spans = append(cut(spans, p.Start, p.End, true), Span{What: p.What, Start: p.Start, End: p.End, From: x.Entry, Corrected: true})
		}
	}
	sorted(spans)
	for _, c := range cards {
		for _, l := range c.Lengths {
			if l.counts() && !seen[l.Entry] {
				seen[l.Entry] = true
				spans = withLength(spans, l, c.Date)
			}
		}
	}
	tell(spans, cards)
	return spans, overlaps
}

// Confirmed tells whether among a person's stamps is their own end of what somebody else ended: one after which they did not begin on it
// again before that end.
func Confirmed(end Stamp, own []Stamp) bool {
	of := func(s Stamp) bool { return s.By == "" && !s.Struck && s.Visit == end.Visit }
	begun := time.Time{}
	for _, s := range own {
		if of(s) && slices.Contains(Spanning, s.Kind) && !s.At.After(end.At) && s.At.After(begun) {
			begun = s.At
		}
	}
	return slices.ContainsFunc(own, func(s Stamp) bool { return of(s) && s.Kind == Stop && !s.At.Before(begun) })
}

// run lets a clock run through stamps.
func run(stamps []Stamp, now time.Time) []Span {
	sortStamps(stamps)
	var out []Span
	var open *Span
	end := func(s Stamp) {
		if open != nil && s.At.After(open.Start) {
			open.End, open.To = s.At, s.Entry
			out = append(out, *open)
		}
		open = nil
	}
	begin := func(s Stamp, w What) { open = &Span{What: w, Start: s.At, From: s.Entry, By: s.By} }
	for _, s := range stamps {
		switch s.Kind {
		case Stop:
			if open != nil && open.Visit == s.Visit {
				end(s)
			}
		case TaskEnd:
			if open != nil && open.Kind == Work && open.Visit == s.Visit && open.Task == s.Task {
				end(s)
				begin(s, What{Kind: Work, Visit: s.Visit})
			}
		case DayStart:
		case DayEnd:
			end(s)
		default:
			end(s)
			begin(s, s.What)
		}
	}
	if open != nil && open.Start.Before(now) {
		open.End, open.Open = now, true
		out = append(out, *open)
	}
	return out
}

// cut takes a stretch of time out of spans.
func cut(spans []Span, start, end time.Time, corrected bool) []Span {
	var out []Span
	for _, s := range spans {
		if !s.Start.Before(end) || !s.End.After(start) {
			out = append(out, s)
			continue
		}
		s.Corrected = s.Corrected || corrected
		if s.Start.Before(start) {
			head := s
			head.End, head.Open, head.To = start, false, ""
			out = append(out, head)
		}
		if s.End.After(end) {
			out = append(out, s.begin(end))
		}
	}
	return out
}

// slack is how much later than now a stamp may seem to be: clocks are set right now and then, and never quite alike.
const slack = time.Minute

// moment is now, or just after the last stamp of the cards when that seems later: what was tapped shows at once.
func moment(now time.Time, cards []Timecard) time.Time {
	at := now
	for _, c := range cards {
		for _, s := range c.Stamps {
			if after := s.At.Add(time.Millisecond); !s.Struck && after.After(at) && !s.At.After(now.Add(slack)) {
				at = after
			}
		}
	}
	return at
}

// Current gives the spans of a person, whose cards are among those given, with all that was tapped up to now.
func Current(person string, now time.Time, cards []Timecard) []Span {
	own := slices.DeleteFunc(slices.Clone(cards), func(c Timecard) bool { return c.Person != person })
	return Spans(moment(now, own), own...)
}

// Running is the span among those of one person that still runs, or nil.
func Running(spans []Span) *Span {
	if n := len(spans); n > 0 && spans[n-1].Open {
		return &spans[n-1]
	}
	return nil
}

// Split cuts spans at local midnight, so that each belongs to one date.
func Split(spans []Span, zone Zone) []Span {
	var out []Span
	for _, s := range spans {
		for {
			next := zone.Tomorrow(s.Start)
			if !next.Before(s.End) {
				break
			}
			head := s
			head.End, head.Open = next, false
			out = append(out, head)
			s = s.begin(next)
		}
		out = append(out, s)
	}
	return out
}

// Hours are seconds by kind.
type Hours struct {
	Travel   int64 `json:"travel"`
	Work     int64 `json:"work"`
	Wait     int64 `json:"wait"`
	Break    int64 `json:"break"`
	Indirect int64 `json:"indirect,omitempty"`
}

// Plus adds hours up.
func (h Hours) Plus(o Hours) Hours {
	return Hours{h.Travel + o.Travel, h.Work + o.Work, h.Wait + o.Wait, h.Break + o.Break, h.Indirect + o.Indirect}
}

// Total adds up the spans of one visit, or of all when visit is empty.
func Total(spans []Span, visit string) Hours {
	var h Hours
	for _, s := range spans {
		if visit != "" && s.Visit != visit {
			continue
		}
		switch s.Kind {
		case Travel:
			h.Travel += s.Seconds()
		case Work:
			h.Work += s.Seconds()
		case Wait:
			h.Wait += s.Seconds()
		case Break:
			h.Break += s.Seconds()
		case Indirect:
			h.Indirect += s.Seconds()
		}
	}
	return h
}

func sortStamps(s []Stamp) {
	sort.SliceStable(s, func(i, j int) bool { return before(s[i].At, s[i].Entry, s[j].At, s[j].Entry) })
}

func before(a time.Time, entryA string, b time.Time, entryB string) bool {
	if c := a.Compare(b); c != 0 {
		return c < 0
	}
	return strings.Compare(entryA, entryB) < 0
}

func latest(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

func earliest(a, b time.Time) time.Time {
	if a.Before(b) {
		return a
	}
	return b
}
