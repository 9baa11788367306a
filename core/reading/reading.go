// Package reading judges measured values: what was typed, its unit, and the limits of the point it was taken at.
package reading

import (
	"strings"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
)

// Point is the thing on an asset that is measured.
type Point struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Unit string `json:"unit"` // that the company shows values in; what is measured may come in any unit like it
	Limits
	// Least and Most bound what can be measured at all: past them somebody misread or mistyped.
	Least *decimal.Decimal `json:"least,omitempty"`
	Most  *decimal.Decimal `json:"most,omitempty"`
	// Counter tells that the value only grows, until it is replaced, or comes to RollsAt and shows 0 instead: 100,000 where there are
	// five digits.
	Counter bool             `json:"counter,omitempty"`
	RollsAt *decimal.Decimal `json:"rollsAt,omitempty"`
}

// Find gives the point with an id.
func Find(points []Point, id string) (Point, bool) {
	for _, p := range points {
		if p.ID == id {
			return p, true
		}
	}
	return Point{}, false
}

// Limits say from where a value is worth a warning or an alarm. A limit that is absent does not limit.
type Limits struct {
	AlarmLow  *decimal.Decimal `json:"alarmLow,omitempty"`
	WarnLow   *decimal.Decimal `json:"warnLow,omitempty"`
	WarnHigh  *decimal.Decimal `json:"warnHigh,omitempty"`
	AlarmHigh *decimal.Decimal `json:"alarmHigh,omitempty"`
}

// Reading is a value measured at a point: as the gauge showed it, in the gauge's unit.
type Reading struct {
	audit.Line
	Asset    string          `json:"asset"`
	Point    string          `json:"point"`
	Value    decimal.Decimal `json:"value"`
	Unit     string          `json:"unit"`
	Replaced *Replaced       `json:"replaced,omitempty"`
	From     string          `json:"from,omitempty"` // the instrument that gave it; none: somebody read it off
	// Level and Doubt are how it lay to the limits and to what was measured before when it was recorded.
	Level Level `json:"level"`
	Doubt Doubt `json:"doubt,omitempty"`
}

// Replaced tells that a counter was replaced: what the old one last showed and the new one began at.
type Replaced struct {
	Last  decimal.Decimal `json:"last"`
	Start decimal.Decimal `json:"start"`
}

// Level says how a value lies to its limits.
type Level string

const (
	OK        Level = "ok"
	Low       Level = "low"        // at or below the lower warning limit
	High      Level = "high"       // at or above the upper warning limit
	AlarmLow  Level = "alarm_low"  // at or below the lower alarm limit
	AlarmHigh Level = "alarm_high" // at or above the upper alarm limit
)

// Values lists the levels, for generated types.
func (Level) Values() []string {
	return []string{string(OK), string(Low), string(High), string(AlarmLow), string(AlarmHigh)}
}

// Judge compares a value with the limits. A value on a limit is outside: the limit is where to start worrying.
func (p Limits) Judge(v decimal.Decimal) Level {
	switch {
	case p.AlarmLow != nil && v.LessThanOrEqual(*p.AlarmLow):
		return AlarmLow
	case p.AlarmHigh != nil && v.GreaterThanOrEqual(*p.AlarmHigh):
		return AlarmHigh
	case p.WarnLow != nil && v.LessThanOrEqual(*p.WarnLow):
		return Low
	case p.WarnHigh != nil && v.GreaterThanOrEqual(*p.WarnHigh):
		return High
	}
	return OK
}

// maxDigits is far past any gauge, and keeps a pasted novel out of the arithmetic.
const maxDigits = 18

// Parse reads a number as people write it: 1.5 and 1,5, a sign, spaces around. Thousands separators are refused, since
// 1,500 can mean two things.
func Parse(text string) (decimal.Decimal, error) {
	s := strings.TrimSpace(strings.ReplaceAll(text, "\u2212", "-")) // a typographic minus
	digits, marks, after := 0, 0, 0
	for i, r := range s {
		switch {
		case r >= '0' && r <= '9':
			digits++
			if marks > 0 {
				after++
			}
		case r == '.' || r == ',':
			marks++
		case (r == '-' || r == '+') && i == 0:
		default:
			return decimal.Decimal{}, msg.New("number.unreadable", "text", clip(text))
		}
	}
	switch {
	case digits == 0 || marks > 1:
		return decimal.Decimal{}, msg.New("number.unreadable", "text", clip(text))
	case digits > maxDigits:
		return decimal.Decimal{}, msg.New("number.long", "digits", "18")
	case strings.Contains(s, ",") && after == 3 && digits > 3 && !strings.HasPrefix(strings.TrimLeft(s, "+-"), "0"):
		return decimal.Decimal{}, msg.New("number.ambiguous", "text", clip(text))
	}
	d, err := decimal.NewFromString(strings.Replace(s, ",", ".", 1))
	if err != nil {
		return decimal.Decimal{}, msg.New("number.unreadable", "text", clip(text))
	}
	return d, nil
}

func clip(s string) string {
	r := []rune(s)
	if len(r) > 20 {
		return string(r[:20]) + "…"
	}
	return s
}
