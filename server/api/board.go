package api

import (
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Board is the day as the office watches it.
type Board struct {
	Date   string        `json:"date"`
	Now    time.Time     `json:"now"`
	People []BoardPerson `json:"people"`
	// Left are visits of earlier days that are not over, and later ones of people who have no lane here.
	Left []LeftVisit `json:"left"`
	// More is how many work orders wait to be placed beside those that are listed.
	More     int         `json:"more"`
	Unplaced []OrderLine `json:"unplaced"` // to place, most pressing first
	Offers   []OfferLine `json:"offers"`   // that nobody has accepted yet
	Held     int         `json:"held"`     // entries that wait for a decision
	Unread   int         `json:"unread"`   // conversations in which somebody said something that the office has not read
	// Skills are those that work can need, by the company's ids.
	Skills []records.Choice `json:"skills"`
	// Plan is what fits are worked out of, and Ways the revision of its table of ways: "" without roads.
	Plan plan.Day `json:"plan"`
	Ways string   `json:"ways,omitempty"`

	places []records.Point // that the table is of
}

// BoardPerson is a technician's day.
type BoardPerson struct {
	ID     string       `json:"id"`
	Name   string       `json:"name"`
	Short  string       `json:"short"`
	Skills []string     `json:"skills"` // that they have on the day
	Team   string       `json:"team,omitempty"`
	Areas  []string     `json:"areas,omitempty"` // that they work in
	Visits []BoardVisit `json:"visits"`
	// Helps are visits of others that they come along on.
	Helps []BoardHelp `json:"helps,omitempty"`
	// Hours are when they work on the day, and Off what they are off for when they do not.
	Hours []calendar.Interval `json:"hours"`
	Off   *calendar.Off       `json:"off,omitempty"`
	// Duty is when they are on duty besides.
	Duty []calendar.Turn `json:"duty,omitempty"`
}

// BoardHelp is a visit of somebody else's that one comes along on.
type BoardHelp struct {
	Visit   string     `json:"visit"`
	Site    string     `json:"site"`
	Lead    string     `json:"lead"` // short
	Stage   work.Stage `json:"stage"`
	Start   time.Time  `json:"start"`
	Minutes int        `json:"minutes"`
}

// BoardVisit is a visit on the board: planned against actual.
type BoardVisit struct {
	ID      string `json:"id"`
	Order   string `json:"order"` // the work order
	Number  string `json:"number"`
	Site    string `json:"site"`
	Problem string `json:"problem"`
	// Customer is the name of who pays, and Kind the kind of work by the company's ids.
	Customer string `json:"customer"`
	Kind     string `json:"kind,omitempty"`
	work.Standing
	Start   time.Time    `json:"start"`
	Minutes int          `json:"minutes"`
	Helpers []string     `json:"helpers,omitempty"`
	SetOff  time.Time    `json:"setOff,omitzero"`
	Arrived time.Time    `json:"arrived,omitzero"`
	Ended   time.Time    `json:"ended,omitzero"`
	Outcome work.Outcome `json:"outcome,omitempty"`
	Promise time.Time    `json:"promise,omitzero"` // by when somebody comes
	DoneBy  time.Time    `json:"doneBy,omitzero"`
	Flags   int          `json:"flags"`
	Drive   *BoardDrive  `json:"drive,omitempty"` // the way there, while it is still to come
	// Fixed tells that it stays where it is when a plan is worked out anew.
	Fixed bool `json:"fixed,omitempty"`
	// Part tells that it is one of Parts visits of the same work by the same person, on days that follow each other; 0 of one alone.
	Part  int `json:"part,omitempty"`
	Parts int `json:"parts,omitempty"`
	// Known is what its technician knows of when it is, while they have not answered.
	Known *BoardKnown `json:"known,omitempty"`
}

// BoardKnown is what a technician knows of when a visit is.
type BoardKnown struct {
	Seen time.Time `json:"seen,omitzero"` // when they looked at it
	// Told is when they were notified, and Way how: push, text or mail. Failed tells that it reached nobody.
	Told   time.Time `json:"told,omitzero"`
	Way    string    `json:"way,omitempty"`
	Failed bool      `json:"failed,omitempty"`
}

// mostApart is how many days lie at most between two visits of work over several days: a weekend and a holiday.
const mostApart = 4

// partOf tells which of how many visits of the same work by the same person a visit is, where their days follow each other; zeros where it
// is alone.
func partOf(tx *store.Tx, id string, v work.Visit) (part, parts int, err error) {
	var o work.Order
	if _, err := tx.Load("workorder", v.Order, &o); err != nil || len(o.Visits) < 2 {
		return 0, 0, err
	}
	type day struct {
		id    string
		start time.Time
	}
	var days []day
	for _, other := range o.Visits {
		var x work.Visit
		if _, err := tx.Load("visit", other, &x); err != nil {
			return 0, 0, err
		}
		if x.Technician == v.Technician && (other == id || x.Stage != work.Withdrawn && x.Stage != work.Declined) {
			days = append(days, day{other, x.Start})
		}
	}
	slices.SortFunc(days, func(a, b day) int { return a.start.Compare(b.start) })
	first, found := 0, false
	for i, d := range days {
		if i > 0 && d.start.Sub(days[i-1].start) > mostApart*24*time.Hour {
			if found {
				days = days[:i]
				break
			}
			first = i
		}
		if d.id == id {
			part, found = i-first+1, true
		}
	}
	if parts = len(days) - first; parts < 2 {
		return 0, 0, nil
	}
	return part, parts, nil
}

// knownOf tells what the technician of a visit knows of when it is; nil where that does not matter: nothing was sent, or they answered.
func knownOf(k store.KnownVisit, v work.Visit) *BoardKnown {
	switch {
	case v.Stage != work.Sent && (v.Stage != work.Accepted || v.MovedFrom.IsZero()):
		return nil
	case !k.Start.Equal(v.Start):
		return &BoardKnown{}
	}
	return &BoardKnown{Seen: k.Seen, Told: k.Told, Way: k.Way, Failed: k.State == "failed"}
}

// LeftVisit is a visit that is on no lane, with whose it is.
type LeftVisit struct {
	Visit string    `json:"visit"`
	Order OrderLine `json:"order"`
	Start time.Time `json:"start"`
	Name  string    `json:"name"` // short
	work.Standing
}

// BoardDay is a day that is asked for; "" for today.
type BoardDay struct {
	Date  string `form:"date" json:"date,omitempty"`   // 2006-01-02
	Draft bool   `form:"draft" json:"draft,omitempty"` // as it would be with the draft of whoever asks
}

func (s *Server) board(c *gin.Context, q BoardDay) (Board, error) {
	b, lanes, rules, err := s.boardOf(c, q)
	if err != nil {
		return b, err
	}
	s.drives(c.Request.Context(), &b, lanes, rules)
	b.Ways, err = s.roads.TableRev(s.Now(), b.places)
	return b, err
}

// boardOf gives the board of a day without drives, and what these are worked out of: the lanes by person, and the rules.
func (s *Server) boardOf(c *gin.Context, q BoardDay) (Board, map[string]*lane, roads.Settings, error) {
	lanes, rules := map[string]*lane{}, roads.Settings{}
	if q.Date != "" {
		if _, err := time.Parse(time.DateOnly, q.Date); err != nil {
			return Board{}, nil, rules, refusal{status: http.StatusBadRequest, why: msg.New("http.date")}
		}
	}
	b, err := readPlan(s, c, q.Draft, func(tx *store.Tx) (Board, error) {
		settings, err := tx.Settings(s.now(c))
		if err != nil {
			return Board{}, err
		}
		rules = settings.Road
		return board(tx, q.Date, s.now(c), settings, lanes)
	})
	return b, lanes, rules, err
}

// board gathers the board of a day, and the lanes of its people, which it puts into lanes.
func board(tx *store.Tx, date string, now time.Time, rules ledger.Settings, lanes map[string]*lane) (Board, error) {
	var err error
	b := Board{Date: date, Now: rules.Company.Zone.In(now), People: []BoardPerson{}, Left: []LeftVisit{}, Unplaced: []OrderLine{},
		Offers: []OfferLine{}, Skills: append([]records.Choice{}, rules.Orders.Skills...)}
	if date == "" {
		b.Date = b.Now.Format(time.DateOnly)
	}
	day := newDayPlan(tx, b.Date, now, rules)
	err = eachTechnician(tx, rules, func(id string, p records.Person, times calendar.Times) error {
		line := BoardPerson{ID: id, Name: p.Name, Short: p.Short, Skills: append([]string{}, p.SkillsOn(b.Date)...), Team: p.Team,
			Areas: p.Areas, Visits: []BoardVisit{}, Hours: []calendar.Interval{}}
		if times.Known() {
			line.Hours = append(line.Hours, times.On(b.Date, rules.Company.Zone)...)
		}
		if off, is := times.Absent(b.Date, rules.Company.Zone); is {
			line.Off = &off
		}
		line.Duty = day.duty(id)
		b.People = append(b.People, line)
		l, err := laneOf(tx, id, p, b.Date, rules.Road)
		lanes[id] = l
		if err == nil {
			day.person(id, p, l.start, times)
		}
		return err
	})
	if err != nil {
		return b, err
	}
	slices.SortFunc(b.People, func(x, y BoardPerson) int { return strings.Compare(x.Name, y.Name) })
	if err := day.things(); err != nil {
		return b, err
	}
	if err := b.left(tx); err != nil {
		return b, err
	}
	ids, err := tx.VisitsOn(b.Date)
	if err != nil {
		return b, err
	}
	// A clock that was begun on an earlier day and still runs is on each day until now.
	for _, l := range b.Left {
		if l.On && l.Start.Format(time.DateOnly) <= b.Date && b.Date <= b.Now.Format(time.DateOnly) && !slices.Contains(ids, l.Visit) {
			ids = append(ids, l.Visit)
		}
	}
	known, err := tx.KnownOf(ids...)
	if err != nil {
		return b, err
	}
	for _, id := range ids {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return b, err
		}
		o, err := orderLine(tx, v.Order)
		if err != nil {
			return b, err
		}
		flags, err := tx.FlagsOn(ledger.Ref{Type: "visit", ID: id})
		if err != nil {
			return b, err
		}
		i := slices.IndexFunc(b.People, func(p BoardPerson) bool { return p.ID == v.Technician })
		if i < 0 {
			continue
		}
		standing, err := standing(tx, id, v, b.Now)
		if err != nil {
			return b, err
		}
		line := BoardVisit{ID: id, Order: v.Order, Number: o.Number, Site: o.Site, Problem: o.Problem, Customer: o.Customer, Kind: o.Kind,
			Promise: o.Promise, DoneBy: o.DoneBy, Standing: standing, Start: v.Start, Minutes: v.Minutes, Helpers: v.Helpers, Fixed: v.Fixed,
			SetOff: v.Taken(work.SetOff), Arrived: v.Taken(work.Arrive), Outcome: v.Outcome, Flags: len(flags)}
		if v.Stage == work.Finished {
			line.Ended = v.Ended()
		}
		line.Known = knownOf(known[[2]string{v.Technician, id}], v)
		if line.Part, line.Parts, err = partOf(tx, id, v); err != nil {
			return b, err
		}
		b.People[i].Visits = append(b.People[i].Visits, line)
		for k := range b.People {
			if p := &b.People[k]; slices.Contains(v.Helpers, p.ID) && v.Stage != work.Withdrawn && v.Stage != work.Declined {
				p.Helps = append(p.Helps, BoardHelp{Visit: id, Site: o.Site, Lead: b.People[i].Short, Stage: standing.Stage, Start: v.Start,
					Minutes: v.Minutes})
			}
		}
		if err := lanes[v.Technician].add(tx, id, v); err != nil {
			return b, err
		}
		if err := day.visit(id, v, b.Now); err != nil {
			return b, err
		}
	}
	by := max(b.Date, b.Now.Format(time.DateOnly)) // what is on hold until then may be planned for it
	unplaced, err := tx.Unplaced(by, mostUnplaced)
	if err != nil {
		return b, err
	}
	all, err := tx.CountUnplaced(by)
	if err != nil {
		return b, err
	}
	b.More = all - len(unplaced)
	for _, id := range unplaced {
		o, err := orderLine(tx, id)
		if err != nil {
			return b, err
		}
		if err := waits(tx, &o, rules.Visits); err != nil {
			return b, err
		}
		b.Unplaced = append(b.Unplaced, o)
		if err := day.place(id, o.Minutes, o.Skills); err != nil {
			return b, err
		}
	}
	if err := day.whoKnows(); err != nil {
		return b, err
	}
	b.Plan, b.places = day.day, day.places
	// What waits for parts can't be planned yet: it comes last, until they are in.
	slices.SortStableFunc(b.Unplaced, func(x, y OrderLine) int { return min(x.Waits, 1) - min(y.Waits, 1) })
	if b.Offers, err = openOffers(tx); err != nil {
		return b, err
	}
	held, err := tx.Held()
	if err != nil {
		return b, err
	}
	b.Held = len(held)
	b.Unread, err = tx.UnreadTalks()
	return b, err
}

// left lists visits of earlier days that are not over, and those of people who have no lane since they are no technicians any more.
func (b *Board) left(tx *store.Tx) error {
	today := b.Now.Format(time.DateOnly)
	ids, err := tx.VisitsLeft(today)
	if err != nil {
		return err
	}
	people := []string{}
	for _, p := range b.People {
		people = append(people, p.ID)
	}
	others, err := tx.VisitsOfOthers(today, people)
	if err != nil {
		return err
	}
	for _, id := range append(ids, others...) {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return err
		}
		s, err := standing(tx, id, v, b.Now)
		if err != nil {
			return err
		}
		l := LeftVisit{Visit: id, Start: v.Start, Standing: s}
		if l.Order, err = orderLine(tx, v.Order); err != nil {
			return err
		}
		var p records.Person
		if _, err := tx.Load("person", v.Technician, &p); err != nil {
			return err
		}
		l.Name = p.Short
		b.Left = append(b.Left, l)
	}
	return nil
}

// standing is where a visit stands by the clock of whoever is on it.
func standing(tx *store.Tx, id string, v work.Visit, now time.Time) (work.Standing, error) {
	var cards []labor.Timecard
	if v.Stage.Begun() {
		var err error
		if cards, err = tx.Cards(v.CurrentPerson(), v.Since.Format(time.DateOnly), now.Format(time.DateOnly)); err != nil {
			return work.Standing{}, err
		}
	}
	return v.StandingAt(id, now, cards), nil
}
