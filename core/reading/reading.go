// Package reading judges measured values: what was typed, its unit, and the limits of the point it was taken at.
package reading

import (
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
)

// Point is the thing on an asset that is measured. A limit that is absent does not limit.
type Point struct {
	ID        string           `json:"id"`
	Name      string           `json:"name"`
	Unit      string           `json:"unit"`
	AlarmLow  *decimal.Decimal `json:"alarmLow,omitempty"`
	WarnLow   *decimal.Decimal `json:"warnLow,omitempty"`
	WarnHigh  *decimal.Decimal `json:"warnHigh,omitempty"`
	AlarmHigh *decimal.Decimal `json:"alarmHigh,omitempty"`
}

// Reading is a value measured at a point, in the point's unit.
type Reading struct {
	Entry  string          `json:"entry"`
	At     time.Time       `json:"at"`
	Person string          `json:"person"`
	Asset  string          `json:"asset"`
	Point  string          `json:"point"`
	Value  decimal.Decimal `json:"value"`
	Unit   string          `json:"unit"`
	Struck bool            `json:"struck,omitempty"`
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

// Judge compares a value with the limits of p. A value on a limit is outside: the limit is where to start worrying.
func (p Point) Judge(v decimal.Decimal) Level {
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
	case strings.Contains(s, ",") && after == 3 && digits > 3 && s[0] != '0':
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
