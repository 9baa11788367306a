package ledger

import (
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/work"
)

// incidentOfficeKinds are those of what machines report by themselves. The program records them as it finds them; whoever plans may note
// one that was told otherwise.
func incidentOfficeKinds() table {
	return table{
		"incident.opened": row[IncidentOpened]{subject: "incident", office: planners, check: checkIncident,
			keys: func(_ Entry, b IncidentOpened) []Ref { return []Ref{{"asset", b.Asset}} }, apply: incidentOpened,
			final: "what a machine reported was reported"}.kind(),
		"incident.ended": row[IncidentEnded]{subject: "incident", office: planners,
			check: func(b IncidentEnded) error { return checkOptional(b.Order) }, keys: endedKeys, apply: incidentEnded,
			final: "what a machine reported was reported"}.kind(),
		"incident.handled": row[IncidentHandled]{subject: "incident", office: judges,
			check: func(b IncidentHandled) error { return records.CheckText("note", b.Note, true, 500) }, apply: incidentHandled,
			final: "it is handled"}.kind(),
	}
}

// Incident is something that was wrong with a machine by what it reported, from when it began until it was well again.
type Incident struct {
	Asset string `json:"asset"`
	// Rule is what it was found by, Point and Unit are the name and unit of what was reported.
	Rule  signal.Rule `json:"rule"`
	Point string      `json:"point,omitempty"`
	Unit  string      `json:"unit,omitempty"`
	Since time.Time   `json:"since"`
	Ended time.Time   `json:"ended,omitzero"` // since when it is well again
	// Order is the work order that was opened for it, "" for none.
	Order  string         `json:"order,omitempty"`
	Values []signal.Value `json:"values,omitempty"` // that led to it
	// Usual is what the value was before, of one that changed.
	Usual   *decimal.Decimal `json:"usual,omitempty"`
	Handled *SeenTo          `json:"handled,omitempty"`
}

// SeenTo is who looked at an incident at the office, and what came of it.
type SeenTo struct {
	audit.Line
	Note string `json:"note"`
}

// IncidentOpened is the body of incident.opened.
type IncidentOpened struct {
	Asset  string           `json:"asset"`
	Rule   signal.Rule      `json:"rule"`
	Point  string           `json:"point,omitempty"` // name
	Unit   string           `json:"unit,omitempty"`
	Since  time.Time        `json:"since"`
	Order  string           `json:"order,omitempty"`
	Values []signal.Value   `json:"values,omitempty"`
	Usual  *decimal.Decimal `json:"usual,omitempty"`
}

// IncidentEnded is the body of incident.ended: the machine is well again, which its work order says.
type IncidentEnded struct {
	At    time.Time `json:"at"`
	Order string    `json:"order,omitempty"`
}

// IncidentHandled is the body of incident.handled.
type IncidentHandled struct {
	Note string `json:"note"`
}

// MostIncidentValues is how many values are kept with an incident.
const MostIncidentValues = 60

func checkIncident(b IncidentOpened) error {
	if len(b.Values) > MostIncidentValues {
		return msg.New("entry.large")
	}
	for _, v := range b.Values {
		if v.Value.Abs().GreaterThan(maxReading) || v.Value.Exponent() < -9 || v.Value.Exponent() > 12 {
			return msg.New("reading.absurd")
		}
	}
	if err := (signal.Rules{Rules: []signal.Rule{b.Rule}}).Check(); err != nil {
		return msg.From(err)
	}
	if err := records.CheckText("point", b.Point, false, 200); err != nil {
		return err
	}
	if err := records.CheckText("unit", b.Unit, false, 20); err != nil {
		return err
	}
	if err := checkOptional(b.Order); err != nil {
		return err
	}
	return records.CheckID(b.Asset)
}

func incidentOpened(t *tx, e Entry, b IncidentOpened) error {
	if t.exists(e.Subject) {
		return msg.New("record.exists", "type", e.Subject.Type, "id", e.Subject.ID)
	}
	t.save(e.Subject, Incident{Asset: b.Asset, Rule: b.Rule, Point: b.Point, Unit: b.Unit, Since: b.Since, Order: b.Order, Values: b.Values,
		Usual: b.Usual})
	return nil
}

func endedKeys(_ Entry, b IncidentEnded) []Ref {
	if b.Order == "" {
		return nil
	}
	return []Ref{{"workorder", b.Order}}
}

func incidentEnded(t *tx, e Entry, b IncidentEnded) error {
	err := change(t, e.Subject, func(i *Incident) error {
		i.Ended = b.At
		return nil
	})
	if err != nil || b.Order == "" {
		return err
	}
	return change(t, Ref{"workorder", b.Order}, func(o *work.Order) error {
		if o.Signal != nil && o.Signal.Incident == e.Subject.ID {
			s := *o.Signal
			s.Well = b.At
			o.Signal = &s
		}
		return nil
	})
}

func incidentHandled(t *tx, e Entry, b IncidentHandled) error {
	return change(t, e.Subject, func(i *Incident) error {
		i.Handled = &SeenTo{Line: e.line(), Note: b.Note}
		return nil
	})
}

// signalRules are the rules of a kind of machine, which are about its points.
type signalRules struct{ signal.Rules }

// fits says what of them does not fit the kind, once there is one.
func (r signalRules) fits(t *tx, of Ref) error {
	var kind records.AssetKind
	if ok, err := t.load(Ref{"assetkind", of.ID}, &kind); err != nil || !ok {
		return err
	}
	if err := r.CheckFor(kind.Points); err != nil {
		return msg.From(err)
	}
	return nil
}

// fitting is a record that must fit others.
type fitting interface {
	fits(t *tx, of Ref) error
}

// fits says what of a record does not fit others.
func (t *tx) fits(of Ref, record any) error {
	if f, ok := record.(fitting); ok {
		return f.fits(t, of)
	}
	return nil
}

// recordKeys are the documents that a record must fit.
func recordKeys[B any](e Entry, _ B) []Ref {
	if e.Subject.Type == "signalrules" {
		return []Ref{{"assetkind", e.Subject.ID}}
	}
	return nil
}
