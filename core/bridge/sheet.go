package bridge

import (
	"encoding/json"
	"maps"
	"sync"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/area"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

var sheetFunctions = functions{
	"judge": with(func(in view.Judge) (view.Judged, error) { return in.Of(), nil }),
	"fill":  with(func(in Fill) (Filled, error) { return in.fill() }),
	"begin": with(func(in Fill) (Filled, error) { return in.begin() }),
	"area": with(func(in area.Area) (Square, error) {
		d, err := in.Square()
		return Square{d}, err
	}),
	"outlines": with(func(in area.Shape) (Outlines, error) {
		all, err := in.Outlines()
		return Outlines{all}, err
	}),
	"answer": with(func(in Answer) (Answered, error) {
		v, err := in.Question.ReadNew(in.Value)
		return Answered{v}, err
	}),
}

// Fill asks what a sheet of a visit comes to, or how it is begun. A version is compiled once: after the first time its document need not
// be there.
type Fill struct {
	Ref   string          `json:"ref"`
	Sheet json.RawMessage `json:"sheet,omitempty"`
	// Visit needs to have what was recorded for this sheet, and the readings.
	Visit  work.Visit  `json:"visit"`
	Around view.Around `json:"around"`
	// As is a number that whoever asks gives this question, and gives no other. Since is that of an earlier one, for which Changed are
	// the answers that are other since, by sheet.Key; the rest is as it was then, and Visit and Around need not be there.
	As      int                     `json:"as"`
	Since   int                     `json:"since,omitempty"`
	Changed map[string]sheet.Answer `json:"changed,omitempty"`
}

// Filled is the answer; without a State more is wanted: all of it, with the sheet's document.
type Filled struct {
	State *sheet.State       `json:"state,omitempty"`
	Begin *ledger.SheetBegun `json:"begin,omitempty"`
}

// Square is the size of a measured area.
type Square struct {
	Square decimal.Decimal `json:"square"` // m2
}

// Outlines are the ways that the sizes of a polygon can lie.
type Outlines struct {
	Outlines []area.Outline `json:"outlines"`
}

// Answer asks whether what was typed answers a question.
type Answer struct {
	Question sheet.Question `json:"question"`
	Value    string         `json:"value"`
}

// Answered is the canonical answer.
type Answered struct {
	Value string `json:"value"`
}

// filling is a sheet that is being filled in.
type filling struct {
	sheet  *sheet.Compiled
	visit  work.Visit
	around view.Around
	last   *sheet.Filling
	as     int
}

// fillings are the sheets that are being filled in, by their reference: a screen asks after each answer, and what it asked before
// need not be said again. They are a memory only: what they give follows from what was asked.
var fillings = struct {
	sync.Mutex
	by map[string]*filling
}{by: map[string]*filling{}}

const maxFillings = 16

func (in Fill) fill() (Filled, error) {
	fillings.Lock()
	defer fillings.Unlock()
	f := fillings.by[in.Ref]
	switch {
	case in.Since > 0 && (f == nil || f.as != in.Since), f == nil && len(in.Sheet) == 0:
		return Filled{}, nil
	case in.Since > 0:
		answers := maps.Clone(f.visit.Answers[in.Ref])
		if answers == nil {
			answers = map[string]sheet.Answer{}
		}
		maps.Copy(answers, in.Changed)
		f.visit.Answers = map[string]map[string]sheet.Answer{in.Ref: answers}
	default:
		if len(in.Sheet) > 0 {
			c, err := sheet.Load(in.Sheet)
			if err != nil {
				return Filled{}, msg.New("document.unreadable", "document", in.Ref)
			}
			if len(fillings.by) >= maxFillings {
				clear(fillings.by)
			}
			f = &filling{sheet: c}
			fillings.by[in.Ref] = f
		}
		f.visit, f.around, f.last = in.Visit, in.Around, nil
	}
	f.last, f.as = view.Fill(f.sheet, f.last, f.visit, f.around), in.As
	return Filled{State: &f.last.State}, nil
}

func (in Fill) begin() (Filled, error) {
	c, err := sheet.Load(in.Sheet)
	if err != nil {
		return Filled{}, msg.New("document.unreadable", "document", in.Ref)
	}
	b := view.Begin(c, in.Visit, in.Around)
	return Filled{Begin: &b}, nil
}
