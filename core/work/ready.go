package work

import (
	"slices"
	"strconv"
	"strings"
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/sheet"
)

// Lacking is something that still keeps a visit from being complete.
type Lacking struct {
	// Key names it within the visit, to leave it out with a reason.
	Key   string   `json:"key"`
	Check Check    `json:"check"`
	Duty  Duty     `json:"duty"`
	What  msg.Code `json:"what"`
	Jump  Jump     `json:"jump"`
	// Skip is why it was left out, when it was.
	Skip *Skip `json:"skip,omitempty"`
	// parts is how many of what is looked at it stands for, when that is more than one.
	parts int
}

// Jump is where on the visit something is seen to.
type Jump struct {
	Section  string `json:"section"` // of the visit's page
	Sheet    string `json:"sheet,omitempty"`
	Question string `json:"question,omitempty"`
	Item     string `json:"item,omitempty"`
}

// Skip is something asked for that was left out.
type Skip struct {
	audit.Line
	Key    string `json:"key"`
	Reason string `json:"reason"`
}

// Readiness is how far a visit is from being complete.
type Readiness struct {
	// Lacking is what is missing, in the order the work is done; what was left out with a reason is in it.
	Lacking []Lacking `json:"lacking"`
	// Done of Of that the visit is looked at for are there, or were left out with a reason. What is optional does not count.
	Done int `json:"done"`
	Of   int `json:"of"`
}

// Open lists what is missing of a duty and was not left out.
func (r Readiness) Open(d Duty) []Lacking {
	out := []Lacking{}
	for _, l := range r.Lacking {
		if l.Duty == d && l.Skip == nil {
			out = append(out, l)
		}
	}
	return out
}

// Missing are the codes of all that is missing and was not left out.
func (r Readiness) Missing() []msg.Code {
	out := []msg.Code{}
	for _, l := range r.Lacking {
		if l.Skip == nil {
			out = append(out, l.What)
		}
	}
	return out
}

// Around is what a visit's readiness is worked out from beside itself.
type Around struct {
	Order    Order
	Rules    VisitSettings
	Sheets   []sheet.State
	Points   []reading.Point // of the work order's machine
	Unserial []PartUsed      // parts used without the serial number that they have
	Names    func(part string) string
	Days     []string // that were worked on, as 2006-01-02
}

// Ready works out what still keeps the visit from being complete.
func (v Visit) Ready(a Around) Readiness {
	out := Readiness{Lacking: []Lacking{}}
	// look counts something that is looked at, and notes what of it is missing.
	look := func(check Check, of int, missing ...Lacking) {
		duty, made := a.Rules.Duty(check, a.Order.Kind)
		if !made {
			return
		}
		left := 0
		for _, l := range missing {
			l.Check, l.Duty = check, duty
			if duty != Required { // what is required can't be left out, whatever was recorded
				l.Skip = v.skipped(l.Key)
			}
			out.Lacking = append(out.Lacking, l)
			if l.Skip == nil {
				left += max(l.parts, 1)
			}
		}
		if duty != Optional {
			out.Of += of
			out.Done += max(of-left, 0)
		}
	}
	one := func(when bool, l Lacking) []Lacking {
		if when {
			return []Lacking{l}
		}
		return nil
	}
	var blocked []Lacking
	for _, s := range a.Sheets {
		for _, b := range s.Blocks {
			blocked = append(blocked, Lacking{Key: "blocked " + s.Sheet + " " + sheet.Key(b.Question, b.Item),
				What: *msg.New("missing.blocked", "sheet", s.Title, "question", b.Args["question"]),
				Jump: Jump{"checks", s.Sheet, b.Question, b.Item}})
		}
	}
	look(CheckBlocked, len(blocked), blocked...)

	var tasks []Lacking
	for _, t := range a.Order.AllTasks() {
		tasks = append(tasks, one(a.Order.Stands(t.ID).Act != TaskDone,
			Lacking{Key: "task " + t.ID, What: *msg.New("missing.task", "task", t.Name), Jump: Jump{Section: "tasks"}})...)
	}
	look(CheckTasks, len(a.Order.AllTasks()), tasks...)

	look(CheckTrouble, 1, one(!v.explained(), Lacking{Key: "trouble", What: *msg.New("missing.trouble"), Jump: Jump{Section: "trouble"}})...)

	var points []Lacking
	for _, p := range a.Points {
		taken := slices.ContainsFunc(v.Readings, func(r reading.Reading) bool {
			return !r.Struck && r.Asset == a.Order.Asset && r.Point == p.ID
		})
		points = append(points, one(!taken, Lacking{Key: "reading " + p.ID, What: *msg.New("missing.reading", "point", p.Name),
			Jump: Jump{Section: "readings"}})...)
	}
	look(CheckReadings, len(a.Points), points...)

	for _, s := range a.Sheets {
		// A sheet is left out as a whole; each of its questions counts.
		n := len(s.Missing)
		var missing []Lacking
		if n > 0 {
			at := s.Missing[0]
			missing = append(missing, Lacking{Key: "sheet " + s.Sheet,
				What: *msg.New("missing.answers", "sheet", s.Title, "count", strconv.Itoa(n)),
				Jump: Jump{"checks", s.Sheet, at.Question, at.Item}, parts: n})
		}
		look(CheckAnswers, max(s.Total, n), missing...)
	}

	var serials []Lacking
	for _, p := range a.Unserial {
		serials = append(serials, Lacking{Key: "serial " + p.Entry, What: *msg.New("missing.serial", "part", a.Names(p.Part)),
			Jump: Jump{Section: "parts"}})
	}
	look(CheckSerials, len(serials), serials...)

	shows := func(m Moment) bool {
		return slices.ContainsFunc(v.Files, func(f File) bool { return !f.Struck && f.Moment == m })
	}
	look(CheckBefore, 1, one(!shows(Before), Lacking{Key: "photo before", What: *msg.New("missing.before"),
		Jump: Jump{Section: "photos"}})...)
	look(CheckAfter, 1, one(!shows(After), Lacking{Key: "photo after", What: *msg.New("missing.after"),
		Jump: Jump{Section: "photos"}})...)
	noted := slices.ContainsFunc(v.Notes, func(n Note) bool { return !n.Struck })
	look(CheckNote, 1, one(!noted, Lacking{Key: "note", What: *msg.New("missing.findings"), Jump: Jump{Section: "notes"}})...)

	clocks := v.Clocking()
	look(CheckClock, 1, one(len(clocks) > 0, Lacking{Key: "clock",
		What: *msg.New("missing.clock", "count", strconv.Itoa(len(clocks))), Jump: Jump{Section: "crew"}})...)
	look(CheckSignature, 1, one(!v.signedFor(a.Days), Lacking{Key: "signature", What: *msg.New("missing.signature"),
		Jump: Jump{Section: "finish"}})...)
	return out
}

// signedFor tells whether what was done is signed for, as a whole or day by day, or why it is not was said.
func (v Visit) signedFor(days []string) bool {
	if v.Unsigned() != nil {
		return true
	}
	signed := map[string]bool{}
	for _, s := range v.Signatures {
		if !s.Struck {
			signed[s.Summary.Day] = true
		}
	}
	if signed[""] || len(signed) == 0 {
		return signed[""]
	}
	return !slices.ContainsFunc(days, func(d string) bool { return !signed[d] })
}

// skipped is why something was left out, or nil.
func (v Visit) skipped(key string) *Skip {
	for i, s := range slices.Backward(v.Skips) {
		if s.Key == key && !s.Struck {
			return &v.Skips[i]
		}
	}
	return nil
}

// Absence is why nobody signed: a photo of it is a file about its entry.
type Absence struct {
	audit.Line
	Reason string `json:"reason"`         // the id of a reason, or words
	Name   string `json:"name,omitempty"` // who would have had to
}

// Unsigned is why nobody signed, or nil.
func (v Visit) Unsigned() *Absence {
	for i, a := range slices.Backward(v.Absences) {
		if !a.Struck {
			return &v.Absences[i]
		}
	}
	return nil
}

// Question is what the office asks about a visit that it sends back to whoever did it.
type Question struct {
	audit.Line
	Text string `json:"text"`
	// Answer is all that was said to it, once it was, by when and whom the last of it.
	Answer     string    `json:"answer,omitempty"`
	AnsweredAt time.Time `json:"answeredAt,omitzero"`
	AnsweredBy string    `json:"answeredBy,omitempty"`
	Answers    []Reply   `json:"answers,omitempty"` // one by one
}

// Reply is an answer to a question.
type Reply struct {
	audit.Line
	Text string `json:"text"`
}

// Reply adds an answer.
func (q *Question) Reply(r Reply) {
	q.Answers = audit.Add(q.Answers, r)
	var texts []string
	for _, a := range q.Answers {
		texts = append(texts, a.Text)
		q.AnsweredAt, q.AnsweredBy = a.At, a.Person
	}
	q.Answer = strings.Join(texts, "\n")
}

// Asked is the question that still waits for an answer, or nil.
func (v Visit) Asked() *Question {
	for i, q := range v.Questions {
		if q.AnsweredAt.IsZero() {
			return &v.Questions[i]
		}
	}
	return nil
}

// Report is a service report that was made of the visit. What it says is in a document of its own.
type Report struct {
	audit.Line
	Layout string `json:"layout"`
	Code   string `json:"code"`
	PDF    string `json:"pdf"`  // its SHA-256
	Size   int64  `json:"size"` // of the PDF, in bytes
}
