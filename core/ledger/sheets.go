package ledger

import (
	"cmp"
	"maps"
	"slices"
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/ordered"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/work"
)

func sheetKinds() table {
	return table{
		"sheet.begun": row[SheetBegun]{subject: "visit", check: checkBegun,
			keys: func(_ Entry, b SheetBegun) []Ref { return sheetKeys(b.Sheet) }, apply: sheetBegun,
			final: "its answers are struck out one by one"}.kind(),
		"sheet.repeated": row[SheetRepeated]{subject: "visit", check: checkSheetRepeated,
			keys: func(_ Entry, b SheetRepeated) []Ref { return sheetKeys(b.Sheet) }, apply: sheetRepeated,
			strike: strikeItem}.kind(),
		"sheet.answered": row[Answered]{subject: "visit", check: checkAnswered, keys: answeredKeys, apply: answered,
			strike: strikeAnswer, raise: []raise{asItWas}}.kind(),
		"sheet.attached": row[SheetAttached]{subject: "visit", check: checkSheetAttached, keys: attachKeys, apply: sheetAttached,
			final: "a sheet that nobody needs is left out, with a reason"}.kind(),
	}
}

// Answered is the body of sheet.answered. An empty value takes the answer back.
type Answered struct {
	Sheet    string `json:"sheet"` // id@version
	Question string `json:"question"`
	Item     string `json:"item,omitempty"` // where its section repeats
	Value    string `json:"value"`
	Note     string `json:"note,omitempty"`
	// Asset is the visit's machine, where the next visit's sheet is to be filled in with this answer.
	Asset string `json:"asset,omitempty"`
}

// SheetBegun is the body of sheet.begun: what was known when the sheet was begun, which counts as answered, and the machines that sections
// repeat for.
type SheetBegun struct {
	Sheet string     `json:"sheet"`
	Known []Given    `json:"known,omitempty"`
	Items []Repeated `json:"items,omitempty"`
}

// Given is an answer within an entry that has several.
type Given struct {
	Question string `json:"question"`
	Item     string `json:"item,omitempty"`
	Value    string `json:"value"`
}

// Repeated is one of the rooms, areas or machines that a section is filled in for. The same again gives it another name.
type Repeated struct {
	Section string  `json:"section"`
	Item    string  `json:"item"`
	Name    string  `json:"name"`
	Asset   string  `json:"asset,omitempty"`
	Copied  []Given `json:"copied,omitempty"` // answers taken over from another
}

// SheetRepeated is the body of sheet.repeated.
type SheetRepeated struct {
	Sheet string `json:"sheet"`
	Repeated
}

// SheetAttached is the body of sheet.attached and work.sheet_attached.
type SheetAttached struct {
	Order string `json:"order"`
	Sheet string `json:"sheet"`
}

const maxGiven = 1000

func sheetKeys(ref string) []Ref { return []Ref{{"sheet", ref}} }

func checkAnswered(b Answered) error {
	if err := checkIDs(b.Sheet, b.Question); err != nil {
		return err
	}
	if err := checkOptional(b.Item, b.Asset); err != nil {
		return err
	}
	if err := records.CheckText("note", b.Note, false, records.MaxText); err != nil {
		return err
	}
	return records.CheckText("answer", b.Value, false, sheet.MaxData)
}

func checkIDs(ids ...string) error {
	for _, id := range ids {
		if err := records.CheckID(id); err != nil {
			return err
		}
	}
	return nil
}

func checkOptional(ids ...string) error {
	return checkIDs(slices.DeleteFunc(ids, func(id string) bool { return id == "" })...)
}

func checkGiven(list []Given) error {
	if len(list) > maxGiven {
		return msg.New("entry.large")
	}
	for _, g := range list {
		if err := checkAnswered(Answered{Sheet: "s@1", Question: g.Question, Item: g.Item, Value: g.Value}); err != nil {
			return err
		}
	}
	return nil
}

func checkRepeated(r Repeated) error {
	if err := checkIDs(r.Section, r.Item); err != nil {
		return err
	}
	if err := checkOptional(r.Asset); err != nil {
		return err
	}
	if err := records.CheckText("name", r.Name, true, 200); err != nil {
		return err
	}
	return checkGiven(r.Copied)
}

func checkSheetRepeated(b SheetRepeated) error {
	return cmp.Or(checkIDs(b.Sheet), checkRepeated(b.Repeated))
}

func checkBegun(b SheetBegun) error {
	if len(b.Items) > maxGiven {
		return msg.New("entry.large")
	}
	for _, r := range b.Items {
		if err := checkRepeated(r); err != nil {
			return err
		}
	}
	return cmp.Or(checkIDs(b.Sheet), checkGiven(b.Known))
}

// sheet loads a sheet for answers to it. One that is not there is a flag: the answers are kept.
func (t *tx) sheet(ref string) (*sheet.Sheet, error) {
	var s sheet.Sheet
	if ok, err := t.load(Ref{"sheet", ref}, &s); err != nil || !ok {
		return nil, err
	}
	return &s, nil
}

// answers loads the visit and the sheet that something is answered on.
func (t *tx) answers(ref string) (*work.Visit, *sheet.Sheet, error) {
	v, err := t.fact()
	if err != nil {
		return nil, nil, err
	}
	s, err := t.sheet(ref)
	return v, s, err
}

func answered(t *tx, e Entry, b Answered) error {
	v, s, err := t.answers(b.Sheet)
	if err != nil {
		return err
	}
	if b.Value, err = t.read(s, b.Sheet, b.Question, b.Value); err != nil {
		return err
	}
	if b.Asset != "" {
		var h reading.History
		if _, err := t.load(MeasuredRef(b.Asset), &h); err != nil {
			return err
		}
		id, _ := sheet.Split(b.Sheet)
		h.Answer(reading.Told{Sheet: id, Key: sheet.Key(b.Question, b.Item), Value: b.Value, At: e.At, Entry: e.ID})
		t.save(MeasuredRef(b.Asset), h)
	}
	if put(v, e, b, false) {
		t.save(e.Subject, v)
	}
	return nil
}

func answeredKeys(_ Entry, b Answered) []Ref {
	out := sheetKeys(b.Sheet)
	if b.Asset != "" {
		out = append(out, MeasuredRef(b.Asset))
	}
	return out
}

// read gives the canonical answer. What a newer program asks for is kept as it is.
func (t *tx) read(s *sheet.Sheet, ref, question, value string) (string, error) {
	if s != nil {
		if q, found := s.Find(question); found {
			if s.Format > sheet.Format || !slices.Contains(q.Kind.Values(), string(q.Kind)) {
				return value, nil
			}
			if t.entry.Kind == "sheet.answered" && t.entry.V > 1 {
				return q.ReadNew(value)
			}
			return q.Read(value)
		}
	}
	t.flag("sheet.unknown_question", "sheet", ref, "question", question)
	return value, nil
}

// put notes an answer, unless another stands, whichever is heard of first: what somebody answered stands before what was known, of two
// answers the later, and of what was known the earlier.
func put(v *work.Visit, e Entry, b Answered, known bool) bool {
	key := sheet.Key(b.Question, b.Item)
	answers := v.Answers[b.Sheet]
	if old, is := answers[key]; is && (known && !old.Known || known == old.Known &&
		(audit.Moment{At: e.At, Entry: e.ID}).Before(audit.Moment{At: old.At, Entry: old.Entry}) != known) {
		return false
	}
	if answers = maps.Clone(answers); answers == nil {
		answers = map[string]sheet.Answer{}
	}
	answers[key] = sheet.Answer{Entry: e.ID, At: e.At, Person: e.Actor, Value: b.Value, Note: b.Note, Known: known,
		Asset: b.Asset}
	if v.Answers = maps.Clone(v.Answers); v.Answers == nil {
		v.Answers = map[string]map[string]sheet.Answer{}
	}
	v.Answers[b.Sheet] = answers
	return true
}

func sheetBegun(t *tx, e Entry, b SheetBegun) error {
	v, s, err := t.answers(b.Sheet)
	if err != nil {
		return err
	}
	// Two who begin it at once, each with no signal: the first to begin did. What was known is the same to both.
	if was, ok := v.SheetsBegun[b.Sheet]; !ok || e.At.Before(was) {
		if v.SheetsBegun = maps.Clone(v.SheetsBegun); v.SheetsBegun == nil {
			v.SheetsBegun = map[string]time.Time{}
		}
		v.SheetsBegun[b.Sheet] = e.At
	}
	for _, r := range b.Items {
		repeat(v, e, b.Sheet, r)
	}
	return t.give(v, e, s, b.Sheet, b.Known, true)
}

// give notes several answers of one entry.
func (t *tx) give(v *work.Visit, e Entry, s *sheet.Sheet, ref string, list []Given, known bool) error {
	for _, g := range list {
		value, err := t.read(s, ref, g.Question, g.Value)
		if err != nil {
			continue // what was known does not answer the question: it is asked
		}
		put(v, e, Answered{Sheet: ref, Question: g.Question, Item: g.Item, Value: value}, known)
	}
	t.save(e.Subject, v)
	return nil
}

func sheetRepeated(t *tx, e Entry, b SheetRepeated) error {
	v, s, err := t.answers(b.Sheet)
	if err != nil {
		return err
	}
	repeat(v, e, b.Sheet, b.Repeated)
	return t.give(v, e, s, b.Sheet, b.Copied, false)
}

// repeat adds an item, or gives it another name: it is of the first entry that has it, and has the name of the last.
func repeat(v *work.Visit, e Entry, ref string, r Repeated) {
	items := slices.Clone(v.Items[ref])
	it := sheet.Item{Line: e.line(), Section: r.Section, ID: r.Item, Name: r.Name, Asset: r.Asset}
	by := audit.Moment{At: e.At, Entry: e.ID}
	if i := slices.IndexFunc(items, func(x sheet.Item) bool { return x.Section == r.Section && x.ID == r.Item }); i < 0 {
		items = append(items, it)
	} else {
		old := &items[i]
		first := audit.Moment{At: old.At, Entry: old.Entry}
		named := old.Named
		if named.Entry == "" {
			named = first
		}
		if named.Before(by) {
			old.Name, old.Named = r.Name, by
		} else if by.Before(first) {
			it.Name, it.Named = old.Name, named
			*old = it
		}
	}
	ordered.Stable(items, func(a, b sheet.Item) int { return cmp.Or(a.At.Compare(b.At), cmp.Compare(a.Entry, b.Entry)) })
	if v.Items = maps.Clone(v.Items); v.Items == nil {
		v.Items = map[string][]sheet.Item{}
	}
	v.Items[ref] = items
}

func checkSheetAttached(b SheetAttached) error { return checkIDs(b.Order, b.Sheet) }

func attachKeys(_ Entry, b SheetAttached) []Ref {
	return append(sheetKeys(b.Sheet), Ref{"workorder", b.Order})
}

// sheetAttached adds a sheet to a work order: in the field by somebody who is on one of its visits, or at the office.
func sheetAttached(t *tx, e Entry, b SheetAttached) error {
	if e.Subject.Type == "visit" {
		v, err := t.fact()
		if err != nil {
			return err
		}
		if v.Order != b.Order {
			return msg.New("record.unknown", "type", "workorder", "id", b.Order)
		}
	}
	s, err := t.sheet(b.Sheet)
	if err != nil {
		return err
	}
	if s == nil {
		return msg.New("record.unknown", "type", "sheet", "id", b.Sheet)
	}
	var o work.Order
	ref := Ref{"workorder", b.Order}
	if ok, err := t.load(ref, &o); err != nil {
		return err
	} else if !ok {
		return msg.New("record.unknown", "type", "workorder", "id", b.Order)
	}
	if !slices.Contains(o.Sheets, b.Sheet) {
		o.Sheets = append(slices.Clone(o.Sheets), b.Sheet)
		t.save(ref, o)
	}
	return nil
}

// strikeItem strikes out one of what a section is filled in for.
func strikeItem(t *tx, s Struck) (mark, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	for _, items := range v.Items {
		if it := audit.Of(items, s.Entry); it != nil {
			if _, err := s.checkLine(it); err != nil {
				return nil, err
			}
			return func(struck bool) {
				it.Struck = struck
				t.save(t.entry.Subject, v)
			}, nil
		}
	}
	return nil, msg.New("strike.unknown")
}

// strikeAnswer takes an answer back, and keeps what it said.
func strikeAnswer(t *tx, s Struck) (mark, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	for _, answers := range v.Answers {
		for q, a := range answers {
			if a.Entry != s.Entry {
				continue
			}
			if err := s.checkPerson(a.Person); err != nil {
				return nil, err
			}
			var h reading.History
			told := false
			if a.Asset != "" {
				var err error
				if told, err = t.load(MeasuredRef(a.Asset), &h); err != nil {
					return nil, err
				}
			}
			return func(struck bool) {
				answers[q] = a.Strike(struck)
				t.save(t.entry.Subject, v)
				if told && h.StrikeTold(s.Entry, struck) {
					t.save(MeasuredRef(a.Asset), h)
				}
			}, nil
		}
	}
	return nil, msg.New("strike.unknown")
}
