// Package settings keeps the rules that are a company's to choose by the days on which they hold.
package settings

import (
	"encoding/json"
	"maps"
	"slices"
	"time"

	"iter.example/iter/core/msg"
)

// Fields are values in JSON, by the names of fields. One that is null is as usual.
type Fields map[string]json.RawMessage

// Dated are the rules of one subject: by a day, 2006-01-02, the fields that have another value from then on. A value holds until a later
// day has another. What the first day says has always held.
type Dated map[string]Fields

// Days lists the days that say something, in order.
func (d Dated) Days() []string { return slices.Sorted(maps.Keys(d)) }

// On gives the values that hold on a day.
func (d Dated) On(day string) Fields {
	out := Fields{}
	for i, from := range d.Days() {
		if i == 0 || from <= day {
			maps.Copy(out, d[from])
		}
	}
	return out
}

// Read reads the rules that hold on a day into v, a pointer to their type.
func (d Dated) Read(day string, v any) error {
	raw, err := json.Marshal(d.On(day))
	if err != nil {
		return err
	}
	if err := json.Unmarshal(raw, v); err != nil {
		return msg.New("settings.unreadable", "day", day)
	}
	return nil
}

// Change gives a copy in which fields have other values from a day on, until a later day that has a value for them. A day before all others
// begins with what held until now.
func (d Dated) Change(day string, to Fields) Dated {
	out := maps.Clone(d)
	if out == nil {
		out = Dated{}
	}
	said := Fields{}
	if days := d.Days(); len(days) > 0 && day < days[0] {
		maps.Copy(said, d[days[0]])
	}
	maps.Copy(said, out[day])
	maps.Copy(said, to)
	out[day] = said
	return out
}

// CheckDay says whether a text is a day, 2006-01-02.
func CheckDay(day string) error {
	if _, err := time.Parse(time.DateOnly, day); err != nil {
		return msg.New("settings.day", "day", day)
	}
	return nil
}
