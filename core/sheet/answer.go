package sheet

import (
	"encoding/json"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/area"
	"iter.example/iter/core/audit"
	"iter.example/iter/core/exact"
	"iter.example/iter/core/formula"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/unit"
)

// Answer is what was answered to a question, in the canonical form that Read gives. An empty value takes the answer back.
type Answer struct {
	Entry  string    `json:"entry"`
	At     time.Time `json:"at"`
	Person string    `json:"person"`
	Value  string    `json:"value"`
	Note   string    `json:"note,omitempty"`
	Known  bool      `json:"known,omitempty"`  // filled in from what was known, and not by hand
	Asset  string    `json:"asset,omitempty"`  // the machine whose history has it, for the next visit
	Struck string    `json:"struck,omitempty"` // what it said before it was struck out
}

// Strike takes an answer back, or gives it again.
func (a Answer) Strike(struck bool) Answer {
	switch {
	case struck && a.Value != "":
		a.Value, a.Struck = "", a.Value
	case !struck && a.Struck != "":
		a.Value, a.Struck = a.Struck, ""
	}
	return a
}

// Item is one of the rooms, areas or machines that a section is filled in for.
type Item struct {
	audit.Line
	Section string       `json:"section"`
	ID      string       `json:"id"`
	Name    string       `json:"name"`
	Asset   string       `json:"asset,omitempty"`
	Named   audit.Moment `json:"named,omitzero"` // what gave it its name, when that is a later entry
}

// Pick is the answer to a question for a part or kit.
type Pick struct {
	Part     string          `json:"part,omitempty"`
	Kit      string          `json:"kit,omitempty"`
	Name     string          `json:"name"`
	Quantity decimal.Decimal `json:"quantity"`
	Price    decimal.Decimal `json:"price"` // of one, as the catalogue had it when it was picked
}

// Amount is quantity times price, to the cent.
func (p Pick) Amount() decimal.Decimal { return p.Quantity.Mul(p.Price).Round(2) }

// Drawn is the answer to a question for a signature.
type Drawn struct {
	Name    string          `json:"name"`
	Strokes signoff.Strokes `json:"strokes"`
	// Digest is the State's when it was drawn; "" before signatures on sheets had one.
	Digest string `json:"digest,omitempty"`
}

// The longest answers: of text in characters, of a drawing or area in bytes.
const (
	MaxText = 5000
	MaxData = 128 << 10
)

// MaxOf is the longest answer of a kind, in characters.
func (k Kind) MaxOf() int {
	if k == Signature || k == Area {
		return MaxData
	}
	return MaxText
}

var most = decimal.New(1, 9)

// Read gives the canonical form of an answer, or says what is wrong with it. By kind:
//
//	yesno            yes, no
//	choice           the id of an option
//	several          ids of options, in the options' order, with commas between
//	number           a decimal in the question's unit; "30 psi" is converted, to five digits when the result has no end
//	date, datetime   2006-01-02, 2006-01-02T15:04
//	part, area, signature   JSON of Pick, area.Area, Drawn
//	text, scan       text
//
// Photos, readings, computed values and instructions are answered in other ways.
func (q Question) Read(value string) (string, error) {
	v := strings.TrimSpace(value)
	if v == "" {
		return "", nil
	}
	if len(v) > q.Kind.MaxOf() && len([]rune(v)) > q.Kind.MaxOf() {
		return "", msg.New("text.long", "max", strconv.Itoa(q.Kind.MaxOf()))
	}
	switch q.Kind {
	case YesNo:
		if v != "yes" && v != "no" {
			return "", msg.New("answer.yesno")
		}
	case Choice:
		if !q.has(v) {
			return "", msg.New("answer.choice")
		}
	case Several:
		given := strings.Split(v, ",")
		out := []string{}
		for _, o := range q.Options {
			if slices.Contains(given, o.ID) {
				out = append(out, o.ID)
			}
		}
		if slices.ContainsFunc(given, func(id string) bool { return !q.has(id) }) {
			return "", msg.New("answer.choice")
		}
		return strings.Join(out, ","), nil
	case Number:
		return q.number(v)
	case Date:
		if _, err := time.Parse(time.DateOnly, v); err != nil {
			return "", msg.New("answer.date")
		}
	case DateTime:
		if _, err := time.Parse("2006-01-02T15:04", v); err != nil {
			return "", msg.New("answer.date")
		}
	case Part:
		var p Pick
		if err := json.Unmarshal([]byte(v), &p); err != nil || (p.Part == "") == (p.Kit == "") {
			return "", msg.New("answer.part")
		}
		if !p.Quantity.IsPositive() || p.Quantity.GreaterThan(most) || p.Quantity.Exponent() < -6 || p.Price.IsNegative() ||
			p.Price.GreaterThan(most) || p.Price.Exponent() < -6 {
			return "", msg.New("quantity.absurd", "quantity", records.Clip(p.Quantity.String()))
		}
		return canonical(p)
	case Area:
		var a area.Area
		if err := json.Unmarshal([]byte(v), &a); err != nil {
			return "", msg.New("answer.area")
		}
		if _, err := a.Square(); err != nil {
			return "", err
		}
		return canonical(a)
	case Signature:
		var d Drawn
		if err := json.Unmarshal([]byte(v), &d); err != nil {
			return "", msg.New("answer.signature")
		}
		if err := d.Strokes.Check(); err != nil {
			return "", err
		}
		return canonical(d)
	case Text, Scan:
	default:
		return "", msg.New("answer.kind", "kind", string(q.Kind))
	}
	return v, nil
}

// ReadNew is Read of an answer that is given now: it leaves nothing open that was not asked for before.
func (q Question) ReadNew(value string) (string, error) {
	v, err := q.Read(value)
	var a area.Area
	if err == nil && q.Kind == Area && v != "" && json.Unmarshal([]byte(v), &a) == nil {
		err = a.CheckNew()
	}
	return v, err
}

func (q Question) has(option string) bool {
	return slices.ContainsFunc(q.Options, func(o Option) bool { return o.ID == option })
}

func (q Question) number(v string) (string, error) {
	text, given, _ := strings.Cut(v, " ")
	d, err := reading.Parse(text)
	if err != nil {
		if d, err = reading.Parse(v); err != nil { // 1 500, say
			return "", err
		}
		given = ""
	}
	if given = strings.TrimSpace(given); given != "" && given != q.Unit {
		var ends bool
		if d, ends, err = unit.Convert(d, given, q.Unit); err != nil {
			return "", err
		}
		if !ends { // what is shown is what is judged and computed with
			d = unit.Shown(d)
		}
	}
	if q.Min != nil && d.LessThan(*q.Min) {
		return "", msg.New("answer.below", "min", q.Min.String(), "unit", q.Unit)
	}
	if q.Max != nil && d.GreaterThan(*q.Max) {
		return "", msg.New("answer.above", "max", q.Max.String(), "unit", q.Unit)
	}
	return d.String(), nil
}

func canonical(v any) (string, error) {
	raw, err := json.Marshal(v)
	return string(raw), err
}

// typed is the type that formulas and conditions see of the question's answer; a computed one's follows from its formula.
func (q Question) typed() (formula.Type, error) {
	switch q.Kind {
	case YesNo:
		return formula.Type{Kind: formula.Bool}, nil
	case Several:
		return formula.Type{Kind: formula.Texts}, nil
	case Number, Reading:
		u, err := unit.Parse(q.Unit)
		return formula.Type{Kind: formula.Number, Dim: u.Dim}, err
	case Photo:
		return formula.Type{Kind: formula.Number}, nil
	case Part:
		return formula.Type{Kind: formula.Number, Dim: unit.Dim{Money: 1}}, nil
	case Area:
		return formula.Type{Kind: formula.Number, Dim: unit.Dim{Length: 2}}, nil
	case Instruction:
		return formula.Type{}, msg.New("sheet.no_value")
	}
	return formula.Type{Kind: formula.Text}, nil
}

// value is a canonical answer as formulas see it.
func (q *cell) value(v string) formula.Value {
	if v == "" {
		return formula.Value{}
	}
	switch q.Kind {
	case YesNo:
		return formula.Value{Kind: formula.Bool, Bool: v == "yes"}
	case Several:
		return formula.Value{Kind: formula.Texts, Text: v}
	case Number:
		d, err := decimal.NewFromString(v)
		if err != nil || q.unit.Factor == nil {
			return formula.Value{}
		}
		return formula.Of(q.unit.Base(d))
	case Part:
		var p Pick
		if json.Unmarshal([]byte(v), &p) != nil {
			return formula.Value{}
		}
		return formula.Of(exact.Of(p.Amount()))
	case Area:
		var a area.Area
		if json.Unmarshal([]byte(v), &a) != nil {
			return formula.Value{}
		}
		d, err := a.Square()
		if err != nil {
			return formula.Value{}
		}
		return formula.Of(exact.Of(d))
	}
	return formula.Value{Kind: formula.Text, Text: v}
}

// Words is an answer in the sheet's own words.
func (q Question) Words(v string) string {
	switch q.Kind {
	case Choice:
		for _, o := range q.Options {
			if o.ID == v {
				return o.Text
			}
		}
	case Several:
		var out []string
		for _, o := range q.Options {
			if slices.Contains(strings.Split(v, ","), o.ID) {
				out = append(out, o.Text)
			}
		}
		return strings.Join(out, ", ")
	case Part:
		var p Pick
		if json.Unmarshal([]byte(v), &p) == nil && p.Name != "" {
			return p.Quantity.String() + " × " + p.Name
		}
	case Area:
		var a area.Area
		if json.Unmarshal([]byte(v), &a) == nil {
			if d, err := a.Square(); err == nil {
				return strings.TrimSpace(a.Name + " " + unit.Shown(d).String() + " m²")
			}
		}
	case Signature:
		var d Drawn
		if json.Unmarshal([]byte(v), &d) == nil {
			return d.Name
		}
	case DateTime:
		return strings.Replace(v, "T", " ", 1)
	}
	return v
}
