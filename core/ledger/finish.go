package ledger

import (
	"slices"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/work"
)

// Skipped is the body of ready.skipped: something that was asked for is left out.
type Skipped struct {
	Key    string `json:"key"` // of what is lacking
	Reason string `json:"reason"`
}

// Absent is the body of signoff.missed: nobody signed.
type Absent struct {
	Reason string      `json:"reason"`
	Name   string      `json:"name,omitempty"` // who would have had to
	Where  *work.Where `json:"where,omitempty"`
}

// Questioned is the body of visit.questioned: the office sends a visit back to whoever did it.
type Questioned struct {
	Text string `json:"text"`
}

// QuestionAnswered is the body of question.answered.
type QuestionAnswered struct {
	Question string `json:"question"` // its entry
	Text     string `json:"text"`
}

// ProposalAnswered is the body of proposal.answered: what the customer said to the lines of a recommendation, in their order.
type ProposalAnswered struct {
	Proposal string        `json:"proposal"` // its entry
	Answers  []work.Answer `json:"answers"`
	Name     string        `json:"name,omitempty"` // who said so
}

// WorkFound is the body of work.found: new work that somebody in the field came upon. With a visit, they do it at once.
type WorkFound struct {
	work.Found
	Customer string        `json:"customer"`
	Site     string        `json:"site"`
	Asset    string        `json:"asset,omitempty"`
	Problem  string        `json:"problem"`
	Priority work.Priority `json:"priority"`
	Minutes  int           `json:"minutes"`
	Kind     string        `json:"kind,omitempty"`
	// Begin is the id of the visit in which it is done; none: it is left for planning.
	Begin string `json:"begin,omitempty"`
}

// TalkSaid is the body of talk.said. Its subject is the talk with the id of the work order.
type TalkSaid struct {
	Text  string `json:"text"`
	Visit string `json:"visit,omitempty"`
	// Office tells that the office says it.
	Office bool `json:"office,omitempty"`
}

// TalkRead is the body of talk.read: whoever records it has read up to an entry.
type TalkRead struct {
	Entry  string `json:"entry"`
	Office bool   `json:"office,omitempty"` // for the office
}

// ReportMade is the body of report.made: what a service report of the visit says, and the hash of it as PDF.
type ReportMade struct {
	Report report.Report `json:"report"`
	Digest string        `json:"digest"`
	PDF    string        `json:"pdf"` // SHA-256
	Size   int64         `json:"size"`
}

// ReportSent is the body of report.sent: somebody is to be sent a report.
type ReportSent struct {
	Report string `json:"report"` // the entry that made it
	To     string `json:"to"`     // an e-mail address or a telephone number
	Text   string `json:"text,omitempty"`
}

// Report is a service report as it is kept: the visit it is of, and what it says.
type Report struct {
	Visit string `json:"visit"`
	ReportMade
}

// ForOffice tells whether an entry of a conversation speaks, or has read, for the office.
func (f *Fact) ForOffice() bool {
	switch b := f.body.(type) {
	case TalkSaid:
		return b.Office
	case TalkRead:
		return b.Office
	}
	return false
}

// SignedWith names the other visits that a signature was given for.
func (f *Fact) SignedWith() []string {
	b, _ := f.body.(Signed)
	return b.With
}

// TalkRef names the conversation about a work order.
func TalkRef(order string) Ref { return Ref{"talk", order} }

// ReportRef names a report by the entry that made it.
func ReportRef(entry string) Ref { return Ref{"report", entry} }

var policyRef = Ref{"policy", "company"}

// policy loads the company's rules; a company without any has the usual ones.
func (t *tx) policy() (p records.Policy, err error) {
	_, err = t.load(policyRef, &p)
	return p, err
}

// finished puts what follows from the outcome on a finish, and what the next visit needs on the work order.
func (t *tx) finished(v *work.Visit, s *work.Step, order string, needed *work.Needed) error {
	p, err := t.policy()
	if err != nil {
		return err
	}
	o, ok := p.Outcome(string(s.Outcome))
	if !ok {
		t.flag("outcome.unknown")
	}
	s.Closes, s.Signature = o.Closes, o.Signature
	if order == "" {
		return nil
	}
	if order != v.Order {
		return msg.New("visit.other_order")
	}
	var w work.Order
	ref := Ref{"workorder", order}
	if ok, err := t.load(ref, &w); err != nil || !ok {
		return err
	}
	r := work.Return{Entry: s.Entry, Visit: t.entry.Subject.ID, At: s.At, Person: s.Person, Outcome: s.Outcome, Reason: s.Reason}
	if needed != nil {
		r.Needed = *needed
	}
	w.Returns = append(slices.Clone(w.Returns), r)
	t.save(ref, w)
	return nil
}

func checkSkipped(b Skipped) error {
	if err := records.CheckText("key", b.Key, true, 300); err != nil {
		return err
	}
	return records.CheckText("reason", b.Reason, true, 500)
}

func skipped(t *tx, e Entry, b Skipped) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Skips = append(slices.Clone(v.Skips), work.Skip{Entry: e.ID, At: e.At, Person: e.Actor, Key: b.Key, Reason: b.Reason})
	t.save(e.Subject, v)
	return nil
}

func checkAbsent(b Absent) error {
	if err := checkWhere(b.Where); err != nil {
		return err
	}
	if err := records.CheckText("name", b.Name, false, 200); err != nil {
		return err
	}
	return records.CheckText("reason", b.Reason, true, 500)
}

func absent(t *tx, e Entry, b Absent) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Absences = append(slices.Clone(v.Absences), work.Absence{Entry: e.ID, At: e.At, Person: e.Actor, Reason: b.Reason, Name: b.Name})
	t.save(e.Subject, v)
	return nil
}

func checkQuestioned(b Questioned) error { return records.CheckText("text", b.Text, true, 1000) }

func questioned(t *tx, e Entry, b Questioned) error {
	v, err := t.visit()
	switch {
	case err != nil:
		return err
	case v.Stage != work.Finished:
		return msg.New("visit.not_over")
	case !v.ReviewedAt.IsZero():
		return msg.New("visit.reviewed")
	case v.Asked() != nil:
		return msg.New("visit.asked")
	}
	v.Questions = append(slices.Clone(v.Questions), work.Question{Entry: e.ID, At: e.At, Person: e.Actor, Text: b.Text})
	t.save(e.Subject, v)
	return nil
}

func checkQuestionAnswered(b QuestionAnswered) error {
	if err := records.CheckID(b.Question); err != nil {
		return err
	}
	return records.CheckText("text", b.Text, true, records.MaxText)
}

func questionAnswered(t *tx, e Entry, b QuestionAnswered) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	i := slices.IndexFunc(v.Questions, func(q work.Question) bool { return q.Entry == b.Question })
	if i < 0 {
		return msg.New("question.unknown")
	}
	v.Questions = slices.Clone(v.Questions)
	q := &v.Questions[i]
	if !q.AnsweredAt.IsZero() { // a second answer, from another device: both are kept
		b.Text = q.Answer + "\n" + b.Text
	}
	q.Answer, q.AnsweredAt, q.AnsweredBy = b.Text, e.At, e.Actor
	t.save(e.Subject, v)
	return nil
}

func checkProposalAnswered(b ProposalAnswered) error {
	if len(b.Answers) == 0 || len(b.Answers) > 50 {
		return msg.New("proposal.lines")
	}
	for _, a := range b.Answers {
		if !slices.Contains(a.Values(), string(a)) {
			return msg.New("proposal.answer")
		}
	}
	if err := records.CheckID(b.Proposal); err != nil {
		return err
	}
	return records.CheckText("name", b.Name, false, 200)
}

func proposalAnswered(t *tx, e Entry, b ProposalAnswered) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	if err := v.Reply(b.Proposal, b.Answers, b.Name, e.At); err != nil {
		return err
	}
	t.save(e.Subject, v)
	return nil
}

// order is the work order that was found. Its number is made of its id, since the device that opens it can't ask for the next one.
func (b WorkFound) order(e Entry) work.Order {
	id := e.Subject.ID
	return work.Order{Number: "F" + id[max(0, len(id)-5):], Customer: b.Customer, Site: b.Site, Asset: b.Asset, Problem: b.Problem, Priority: b.Priority, Minutes: b.Minutes, Kind: b.Kind, Found: &b.Found}
}

// workFoundV1 raises found work that said "discovered" of what the technician saw.
func workFoundV1(e Entry) (Entry, error) {
	return rewritten(e, func(b map[string]any) {
		if b["how"] == "discovered" {
			b["how"] = work.Seen
		}
	})
}

func checkWorkFound(b WorkFound) error {
	if !slices.Contains(b.How.Values(), string(b.How)) {
		return msg.New("found.how")
	}
	if err := checkOptional(b.Begin, b.Visit, b.Asset); err != nil {
		return err
	}
	if err := records.CheckText("who", b.Who, false, 200); err != nil {
		return err
	}
	return b.order(Entry{}).Check()
}

func workFoundKeys(e Entry, b WorkFound) []Ref {
	out := openedKeys(e, b.order(e))
	if b.Begin != "" {
		out = append(out, Ref{"visit", b.Begin}, Ref{"person", e.Actor})
	}
	return out
}

func workFound(t *tx, e Entry, b WorkFound) error {
	o := b.order(e)
	if b.Begin != "" {
		o.Visits = []string{b.Begin}
	}
	if err := t.open(e, o); err != nil {
		return err
	}
	if b.Begin == "" {
		return nil
	}
	ref := Ref{"visit", b.Begin}
	if t.exists(ref) {
		return msg.New("record.exists", "type", "visit", "id", b.Begin)
	}
	if err := t.technician(e.Actor); err != nil {
		return err
	}
	v := work.Visit{Order: e.Subject.ID, Technician: e.Actor, Start: e.At, Minutes: b.Minutes, PlannedAt: e.At, SentAt: e.At, Since: e.At}
	v.Steps = []work.Step{{Entry: e.ID, At: e.At, Person: e.Actor, Action: work.Accept}}
	v.Settle()
	t.save(ref, v)
	return nil
}

func checkTalkSaid(b TalkSaid) error {
	if err := checkOptional(b.Visit); err != nil {
		return err
	}
	return records.CheckText("text", b.Text, true, 2000)
}

func talkSaid(t *tx, e Entry, b TalkSaid) error {
	var c talk.Talk
	if _, err := t.load(e.Subject, &c); err != nil {
		return err
	}
	c.Add(talk.Said{Entry: e.ID, At: e.At, Person: e.Actor, Text: b.Text, Office: b.Office, Visit: b.Visit})
	t.save(e.Subject, c)
	return nil
}

func talkRead(t *tx, e Entry, b TalkRead) error {
	var c talk.Talk
	if ok, err := t.load(e.Subject, &c); err != nil || !ok {
		return err
	}
	reader := e.Actor
	if b.Office {
		reader = talk.Office
	}
	c.See(reader, b.Entry)
	t.save(e.Subject, c)
	return nil
}

func checkReportMade(b ReportMade) error {
	if err := b.Report.Check(); err != nil {
		return err
	}
	if err := records.CheckHash(b.PDF); err != nil {
		return err
	}
	if d, err := b.Report.Digest(); err != nil || d != b.Digest {
		return msg.New("report.digest")
	}
	if b.Size < 1 || b.Size > records.MaxFile {
		return msg.New("file.size", "max", "64")
	}
	return nil
}

func reportMade(t *tx, e Entry, b ReportMade) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	v.Reports = append(slices.Clone(v.Reports), work.Report{Entry: e.ID, At: e.At, Person: e.Actor, Layout: string(b.Report.Layout), Code: report.Code(b.Digest), PDF: b.PDF, Size: b.Size})
	t.save(ReportRef(e.ID), Report{Visit: e.Subject.ID, ReportMade: b})
	t.save(e.Subject, v)
	return nil
}

func checkReportSent(b ReportSent) error {
	if err := records.CheckID(b.Report); err != nil {
		return err
	}
	if err := records.CheckText("text", b.Text, false, 1000); err != nil {
		return err
	}
	return records.CheckText("to", b.To, true, 200)
}

// reportSent asks the gateway for a report to be sent: it is a message to the customer that has the report with it.
func reportSent(t *tx, e Entry, b ReportSent) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(v.Reports, func(r work.Report) bool { return r.Entry == b.Report && !r.Struck }) {
		return msg.New("report.unknown")
	}
	v.Messages = append(slices.Clone(v.Messages), work.Message{Entry: e.ID, At: e.At, Person: e.Actor, To: b.To, Text: b.Text, Report: b.Report})
	t.save(e.Subject, v)
	return nil
}
