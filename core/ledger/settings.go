package ledger

import (
	"encoding/json"
	"maps"
	"reflect"
	"slices"
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/settings"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/trouble"
	"iter.example/iter/core/work"
)

// Settings are the rules that are the company's to choose, as they hold on a day. It is the table of their subjects: each field is a
// document of type settings by the field's name, with the rules by the days from which they hold (settings.Dated).
type Settings struct {
	Company    records.Company         `json:"company"`
	Pay        labor.Terms             `json:"pay"`     // what people are paid for
	Billing    labor.Billing           `json:"billing"` // what customers are billed for
	Time       work.TimeSettings       `json:"time"`
	Orders     work.OrderSettings      `json:"orders"`
	Visits     work.VisitSettings      `json:"visits"`
	Sheets     sheet.Settings          `json:"sheets"`
	Substances substance.Settings      `json:"substances"`
	Messages   records.MessageSettings `json:"messages"`
	Stores     stock.Settings          `json:"stores"`
	Reports    report.Settings         `json:"reports"`
	Road       roads.Settings          `json:"road"`
	Troubles   trouble.Settings        `json:"troubles"`
	Planning   plan.Settings           `json:"planning"`
	Signals    signal.Settings         `json:"signals"`
}

func settingsOfficeKinds() table {
	return table{
		"settings.changed": row[SettingsChanged]{subject: "settings", office: administrators, check: checkSettingsChanged,
			keys: func(e Entry, b SettingsChanged) []Ref {
				return slices.DeleteFunc(b.documents(), func(r Ref) bool { return r == e.Subject })
			},
			guards: SettingsChanged.documents, apply: settingsChanged, final: "settings are changed again",
			// Version 1 was never recorded: it is what changes of a policy of version 1 are raised to.
			raise: []raise{asItWas}}.kind(),
	}
}

// SettingsChanged is the body of settings.changed: which rules hold from which days on.
type SettingsChanged struct {
	// Days are the fields with their values, by the day from which they hold, 2006-01-02, and by subject.
	Days map[string]map[string]settings.Fields `json:"days"`
	// Anew are subjects of which nothing holds any more that was said before.
	Anew []string `json:"anew,omitempty"`
}

// SettingsFrom is a change to all of the settings from a day on.
func SettingsFrom(day string, s Settings) (SettingsChanged, error) {
	raw, err := json.Marshal(s)
	if err != nil {
		return SettingsChanged{}, err
	}
	var all map[string]settings.Fields
	err = json.Unmarshal(raw, &all)
	return SettingsChanged{Days: map[string]map[string]settings.Fields{day: all}}, err
}

// Subject is what an entry with the change is about: the first of its documents.
func (b SettingsChanged) Subject() Ref { return append(b.documents(), Ref{})[0] }

// documents lists the documents of settings that change, by subject.
func (b SettingsChanged) documents() []Ref {
	subjects := slices.Clone(b.Anew)
	for _, patches := range b.Days {
		subjects = slices.AppendSeq(subjects, maps.Keys(patches))
	}
	slices.Sort(subjects)
	var out []Ref
	for _, s := range slices.Compact(subjects) {
		out = append(out, Ref{"settings", s})
	}
	return out
}

// subjects are the subjects of settings, with the types of their rules.
var subjects = func() map[string]reflect.Type {
	out := map[string]reflect.Type{}
	for i, t := 0, reflect.TypeFor[Settings](); i < t.NumField(); i++ {
		out[t.Field(i).Tag.Get("json")] = t.Field(i).Type
	}
	return out
}()

// settingsRef names the document with the rules of a type, that of a field of Settings.
func settingsRef(rules reflect.Type) Ref {
	for name, t := range subjects {
		if t == rules {
			return Ref{"settings", name}
		}
	}
	panic("no field of Settings is a " + rules.String())
}

// Loader reads a document into a pointer, and tells whether it exists.
type Loader func(Ref, any) (bool, error)

// SettingsOn gives the rules of type T, a field of Settings, that hold on a day. Without a document all is as usual.
func SettingsOn[T any](load Loader, day string) (rules T, err error) {
	err = readSettings(load, day, &rules)
	return rules, err
}

// readSettings reads the rules of a subject that hold on a day into a pointer to their type. It is apart from SettingsOn since code
// for each type makes the core larger.
func readSettings(load Loader, day string, rules any) error {
	var d settings.Dated
	if ok, err := load(settingsRef(reflect.TypeOf(rules).Elem()), &d); err != nil || !ok {
		return err
	}
	return d.Read(day, rules)
}

// CompanyAt gives what the company says of itself at a moment, and the day it is then where the company is.
func CompanyAt(load Loader, now time.Time) (c records.Company, day string, err error) {
	var d settings.Dated
	ok, err := load(companySettings, &d)
	if err != nil {
		return c, "", err
	}
	// The zone that tells the day is itself a setting: that of the day in UTC.
	day = now.UTC().Format(time.DateOnly)
	if !ok {
		return c, day, nil
	}
	if err := d.Read(day, &c); err != nil {
		return c, day, err
	}
	if local := c.Zone.In(now).Format(time.DateOnly); local != day {
		day, c = local, records.Company{}
		err = d.Read(day, &c)
	}
	return c, day, err
}

// AllSettings gives the rules of all subjects that hold at a moment.
func AllSettings(load Loader, now time.Time) (Settings, error) {
	var out Settings
	company, day, err := CompanyAt(load, now)
	if err != nil {
		return out, err
	}
	v := reflect.ValueOf(&out).Elem()
	for i := range v.NumField() {
		if err := readSettings(load, day, v.Field(i).Addr().Interface()); err != nil {
			return out, err
		}
	}
	out.Company = company
	return out, nil
}

// PayRules lists the terms of pay by the days from which they hold, for labor.Days.
func PayRules(load Loader) ([]labor.Rules, error) {
	var d settings.Dated
	if _, err := load(settingsRef(reflect.TypeFor[labor.Terms]()), &d); err != nil {
		return nil, err
	}
	out := []labor.Rules{}
	for i, day := range d.Days() {
		r := labor.Rules{From: day}
		if i == 0 {
			r.From = "" // what the first day says has always held
		}
		if err := d.Read(day, &r.Terms); err != nil {
			return nil, err
		}
		out = append(out, r)
	}
	return out, nil
}

// The documents whose rules are asked of when an entry is applied.
var (
	companySettings = settingsRef(reflect.TypeFor[records.Company]())
	visitSettings   = settingsRef(reflect.TypeFor[work.VisitSettings]())
	orderSettings   = settingsRef(reflect.TypeFor[work.OrderSettings]())
	timeSettings    = settingsRef(reflect.TypeFor[work.TimeSettings]())
)

// settingsNow gives the rules of type T on the day of the entry.
func settingsNow[T any](t *tx) (T, error) {
	return SettingsOn[T](t.load, t.entry.At.Format(time.DateOnly))
}

func checkSettingsChanged(b SettingsChanged) error {
	for _, r := range b.documents() {
		if subjects[r.ID] == nil {
			return msg.New("settings.subject", "subject", records.Clip(r.ID))
		}
	}
	if len(b.documents()) == 0 {
		return msg.New("entry.body", "kind", "settings.changed")
	}
	for day := range b.Days {
		if err := settings.CheckDay(day); err != nil {
			return err
		}
	}
	return nil
}

func settingsChanged(t *tx, e Entry, b SettingsChanged) error {
	base := map[string]map[string]json.RawMessage{}
	if len(e.Base) > 0 && json.Unmarshal(e.Base, &base) != nil {
		return msg.New("entry.body", "kind", e.Kind)
	}
	first := slices.Min(append(slices.Collect(maps.Keys(b.Days)), "9999-12-31"))
	for _, ref := range b.documents() {
		var d settings.Dated
		if _, err := t.load(ref, &d); err != nil {
			return err
		}
		if slices.Contains(b.Anew, ref.ID) {
			d = nil
		}
		for _, day := range slices.Sorted(maps.Keys(b.Days)) {
			to, said := b.Days[day][ref.ID]
			if !said {
				continue
			}
			found, err := settingsClashes(ref.ID, d, day, to, base[day][ref.ID], false)
			if err != nil {
				return err
			}
			for _, c := range found {
				if len(c.Theirs) <= maxClash {
					t.flag("record.clash", "day", day, "field", ref.ID+"."+c.Field, "earlier", string(c.Theirs), "later", string(c.Yours))
				}
			}
			d = d.Change(day, to)
		}
		for _, day := range d.Days() {
			if day < first && len(b.Anew) == 0 {
				continue // nothing changes on days before
			}
			if err := checkSettings(ref.ID, d, day, e.V > 1); err != nil {
				return err
			}
		}
		t.save(ref, d)
	}
	return nil
}

// clashes lists what of a document is not as base says that it was, by day and subject as in the change.
func (b SettingsChanged) clashes(doc Doc, base json.RawMessage) ([]Clash, error) {
	var had map[string]map[string]json.RawMessage
	var d settings.Dated
	if json.Unmarshal(base, &had) != nil || (len(doc.Body) > 0 && json.Unmarshal(doc.Body, &d) != nil) {
		return nil, msg.New("entry.body", "kind", "settings.changed")
	}
	var out []Clash
	for _, day := range slices.Sorted(maps.Keys(b.Days)) {
		if to, said := b.Days[day][doc.ID]; said {
			list, err := settingsClashes(doc.ID, d, day, to, had[day][doc.ID], true)
			if err != nil {
				return nil, err
			}
			for _, c := range list {
				c.Field = day + "." + doc.ID + "." + c.Field // where it stands in the base
				out = append(out, c)
			}
		}
	}
	return out, nil
}

// settingsClashes compares the rules of a subject that hold on a day, as people are shown them, with those that a change says it replaces.
func settingsClashes(subject string, d settings.Dated, day string, to settings.Fields, base json.RawMessage, whole bool) ([]Clash, error) {
	rules := reflect.New(subjects[subject]).Interface()
	if err := d.Read(day, rules); err != nil {
		return nil, err
	}
	have, err := json.Marshal(rules)
	if err != nil {
		return nil, err
	}
	want, err := json.Marshal(to)
	if err != nil {
		return nil, err
	}
	return clashes("", have, want, base, whole), nil
}

// checkSettings says whether the rules of a subject that hold on a day can be.
func checkSettings(subject string, d settings.Dated, day string, more bool) error {
	v := reflect.New(subjects[subject]).Interface()
	if err := d.Read(day, v); err != nil {
		return err
	}
	if err := v.(checker).Check(); err != nil {
		return msg.From(err)
	}
	if strict, has := v.(interface{ CheckRules() error }); has && more {
		if err := strict.CheckRules(); err != nil {
			return msg.From(err)
		}
	}
	return nil
}
