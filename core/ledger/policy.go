package ledger

import (
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/settings"
)

// Before settings had subjects and days, all rules of a company were the fields of one record, policy/company. Its entries are read as
// changes to the settings from the day they were recorded on; an entry stays one entry, of all the documents that its fields moved to.

// policyFields are the subject and the field that a field of the policy moved to; with a subject alone, the fields in it did.
var policyFields = map[string]string{
	"company": "company.name", "phone": "company.phone", "currency": "company.currency",
	"zone": "company.zone", "keepDays": "company.keepDays",
	"pauses": "time.pauses", "indirect": "time.indirect",
	"works": "orders.works", "skills": "orders.skills", "phrases": "orders.phrases", "maxHolds": "orders.maxHolds",
	"declines": "visits.declines", "returns": "visits.returns", "outcomes": "visits.outcomes", "ready": "visits.ready",
	"skips": "visits.skips", "signers": "visits.signers", "unsigned": "visits.unsigned", "prices": "visits.prices",
	"sheets": "sheets.always", "sheetRules": "sheets.rules", "substances": "substances.substances", "messages": "messages.templates",
	"suppliers": "stores.suppliers", "taxes": "stores.taxes", "waiting": "stores.waiting", "yard": "road.yard",
	"billing": "billing", "paper": "reports",
}

// always is a day before all work, from which rules hold that have no first day.
const always = "0001-01-01"

// policyV2 raises an entry about a policy to a change of settings.
func policyV2(e Entry) (Entry, error) {
	if e.Subject.Type != "policy" {
		return e, nil
	}
	day := e.At.Format(time.DateOnly)
	change, err := toSettings(day, e.Body)
	if err != nil {
		return e, err
	}
	if len(change.Days) == 0 { // what it named was never a field: nothing changes
		change.Days[day] = map[string]settings.Fields{companySettings.ID: {}}
	}
	if e.Body, err = json.Marshal(change); err != nil {
		return e, err
	}
	if fields(e.Base) != nil {
		base, err := toSettings(day, e.Base)
		if err != nil {
			return e, err
		}
		if e.Base, err = json.Marshal(base.Days); err != nil {
			return e, err
		}
	}
	e.Kind, e.Subject = "settings.changed", companySettings
	return e, nil
}

// policyFlags raises an entry about what was flagged of a policy: the flags are about the settings.
func policyFlags(e Entry) (Entry, error) {
	if e.Subject.Type == "policy" {
		e.Subject = companySettings
	}
	return e, nil
}

// toSettings gives the fields of a policy as a change to the settings from a day on.
func toSettings(day string, policy json.RawMessage) (SettingsChanged, error) {
	out := SettingsChanged{Days: map[string]map[string]settings.Fields{}}
	to := func(day, subject string, values settings.Fields) {
		if out.Days[day] == nil {
			out.Days[day] = map[string]settings.Fields{}
		}
		if out.Days[day][subject] == nil {
			out.Days[day][subject] = settings.Fields{}
		}
		maps.Copy(out.Days[day][subject], values)
	}
	had := fields(policy)
	for _, field := range slices.Sorted(maps.Keys(had)) {
		value := had[field]
		subject, name, single := strings.Cut(policyFields[field], ".")
		switch {
		case field == "hours":
			// These rules had days before all others did: what was said of a day before is said anew.
			var rules []settings.Fields
			if err := json.Unmarshal(value, &rules); err != nil {
				return out, err
			}
			out.Anew = []string{"pay"}
			to(always, "pay", nil)
			for _, r := range rules {
				var from string
				if err := json.Unmarshal(r["from"], &from); err != nil {
					return out, err
				}
				delete(r, "from")
				to(from, "pay", withNulls("pay", r))
			}
		case subject == "": // was never a field
		case single:
			to(day, subject, settings.Fields{name: value})
		case fields(value) != nil:
			to(day, subject, fields(value))
		case string(value) == "null":
			to(day, subject, withNulls(subject, nil))
		default:
			return out, msg.New("entry.body", "kind", "record.amended")
		}
	}
	return out, nil
}

// withNulls is all there is to say of a subject: what rules leave out is as usual.
func withNulls(subject string, rules settings.Fields) settings.Fields {
	out := settings.Fields{}
	for _, f := range jsonFields(subjects[subject]) {
		out[f] = orNull(rules[f])
	}
	return out
}
