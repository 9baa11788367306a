// Package company founds a company: the settings and the check sheet it starts with, and its administrators.
package company

import (
	"cmp"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/shopspring/decimal"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Program is the actor of entries that no person recorded.
const Program = ledger.Program

// zoneYears is how far ahead and back the clock changes of the zone are kept.
const zoneYears = 10

// Settings are what a company starts with.
func Settings(name string, loc *time.Location, now time.Time) ledger.Settings {
	return ledger.Settings{
		Company: records.Company{Name: name, Currency: "EUR", Zone: labor.ZoneOf(loc, now.Year()-zoneYears, now.Year()+zoneYears)},
		Pay:     Pay,
		Billing: Billing,
		Time: work.TimeSettings{
			Pauses: []records.Choice{
				{ID: "break", Text: "Break", Clock: labor.Break},
				{ID: "parts", Text: "Waiting for parts", Clock: labor.Wait},
				{ID: "customer", Text: "Waiting for the customer", Clock: labor.Wait},
				{ID: "called_away", Text: "Called away", Clock: labor.Wait},
			},
			Indirect: []records.Choice{{ID: "workshop", Text: "Workshop"}, {ID: "yard", Text: "Yard and van"},
				{ID: "training", Text: "Training"}, {ID: "meeting", Text: "Meeting"}},
		},
		Orders: work.OrderSettings{
			Works: []records.Choice{{ID: "service", Text: "Service"}, {ID: "repair", Text: "Repair"},
				{ID: "installation", Text: "Installation"}, {ID: "survey", Text: "Survey"}},
			Skills: []records.Choice{{ID: "pumps", Text: "Pumps"}, {ID: "electrical", Text: "Electrical"},
				{ID: "treatment", Text: "Water treatment"}},
			Phrases: []string{"Cleaned and tested, runs quietly.", "Left running, no leaks.", "Customer told on site."},
		},
		Planning: plan.Settings{Absences: []records.Choice{{ID: "leave", Text: "Leave"}, {ID: "sick", Text: "Sick"},
			{ID: "course", Text: "Course"}}},
		Visits: work.VisitSettings{
			Declines: []records.Choice{{ID: "time", Text: "No time left that day"}, {ID: "skill", Text: "Not my trade"},
				{ID: "off", Text: "I am off"}},
			Returns: []records.Choice{{ID: "part", Text: "A part is needed"}, {ID: "time", Text: "More time is needed"},
				{ID: "skill", Text: "Another skill is needed"}, {ID: "customer", Text: "The customer asked for it"}},
			Skips: []records.Choice{{ID: "no_time", Text: "No time for it"}, {ID: "not_here", Text: "There is none here"},
				{ID: "customer", Text: "The customer did not want it"}},
			Unsigned: []records.Choice{{ID: "nobody", Text: "Nobody there"}, {ID: "refused", Text: "They don't want to sign"}},
			Signers:  []string{"Tenant", "Owner", "Project lead"},
		},
		Sheets: sheet.Settings{Always: []string{Service.Ref()}},
		Messages: records.MessageSettings{Templates: []records.Template{
			{ID: "on_the_way", Name: "On the way",
				Text: "Hello {contact}, {technician} of {company} is on the way to {site} and should be there at about {time}. Work order {number}."},
			{ID: "running_late", Name: "Running late",
				Text: "Hello {contact}, {technician} of {company} is running late and should be at {site} at about {time}. Sorry " +
					"for the wait. Questions: {phone}."},
		}},
	}
}

// Pay are the terms of pay a company starts with: overtime after eight hours, double after ten, half an hour of break after
// six hours, the first half hour from home one's own, Sundays double.
var Pay = labor.Terms{
	Round: labor.Rounding{Increment: 5, Way: "nearest", On: "day"}, BreakAfter: 6 * 60, BreakMinutes: 30,
	HomeTravel:    30,
	OvertimeAfter: 8 * 60, DoubleAfter: 10 * 60, WeekAfter: 40 * 60, RestDays: []int{0}, RestPay: "double", LongSpan: 12 * 60, Gap: 15,
}

// Billing is how a company bills time at first.
var Billing = labor.Billing{
	Round: labor.Rounding{Increment: 15, Way: "up"}, Minimum: 60, EveningFrom: 18 * 60, MorningFrom: 7 * 60, Helper: "helper",
	Allowance: decimal.NewFromInt(35),
	Rates: []labor.Rate{
		{Class: labor.Normal, Hour: decimal.NewFromInt(68)}, {Class: labor.Evening, Hour: decimal.NewFromInt(95)},
		{Class: labor.Weekend, Hour: decimal.NewFromInt(120)},
		{Skill: "electrical", Class: labor.Normal, Hour: decimal.NewFromInt(76)},
		{Skill: "helper", Class: labor.Normal, Hour: decimal.NewFromInt(44)},
		{Skill: "helper", Class: labor.Evening, Hour: decimal.NewFromInt(62)},
	},
}

// Service is the check sheet a company starts with.
var Service = sheet.Sheet{ID: "service", Version: 1, Title: "Service check", Sections: []sheet.Section{
	{Title: "Before you start", Questions: []sheet.Question{
		{ID: "isolated", Kind: sheet.YesNo, Text: "Isolated and safe to work on?", Required: true},
		{ID: "leaks", Kind: sheet.YesNo, Text: "Any leaks?", Required: true},
	}},
	{Title: "Condition", Questions: []sheet.Question{
		{ID: "noise", Kind: sheet.Choice, Text: "Noise and vibration", Required: true,
			Options: []sheet.Option{{ID: "normal", Text: "Normal"}, {ID: "raised", Text: "Raised"}, {ID: "severe", Text: "Severe"}}},
		{ID: "bearing", Kind: sheet.Number, Text: "Bearing temperature", Unit: "°C", Min: new(decimal.NewFromInt(-20)),
			Max: new(decimal.NewFromInt(150))},
		{ID: "left", Kind: sheet.YesNo, Text: "Left running and clean?", Required: true},
		{ID: "remarks", Kind: sheet.Text, Text: "Remarks"},
	}},
}}

// Writer appends entries of the program's own in one transaction. Replica is "office" when left out.
type Writer struct {
	Tx      *store.Tx
	Now     time.Time
	Replica string
	IDs     io.Reader // what ids are drawn from; as they come when left out
	// Cause names what the entries follow from: made again after a restore, as from the same cause, they are the same. Without one each is
	// another.
	Cause string
	n     int64
}

// Append records a fact by an actor, and says where it stands if it does not fit.
func (w *Writer) Append(kind string, subject ledger.Ref, actor string, at time.Time, body any, base json.RawMessage) (ledger.Entry, error) {
	raw, err := json.Marshal(body)
	if err != nil {
		return ledger.Entry{}, err
	}
	if w.n == 0 {
		if w.n, err = w.Tx.Seq(); err != nil {
			return ledger.Entry{}, err
		}
	}
	w.n++
	var ids io.Reader = ulid.DefaultEntropy()
	if w.IDs != nil {
		ids = w.IDs
	}
	e := ledger.Entry{ID: ulid.MustNew(uint64(at.UnixMilli()), ids).String(), Kind: kind, V: ledger.Version(kind), At: at, Actor: actor,
		Replica: cmp.Or(w.Replica, "office"), N: w.n, Subject: subject, Body: raw, Base: base}
	if w.Cause != "" {
		digest := sha256.Sum256([]byte(strings.Join([]string{kind, subject.Type, subject.ID, w.Cause}, "\n")))
		e.ID = ulid.ULID(digest[:16]).String()
		if have, found, err := w.Tx.Find(e.ID); found || err != nil {
			return have.Entry, err
		}
	}
	if _, err = w.Tx.Record(e, w.Now); err != nil {
		return e, fmt.Errorf("%s of %s: %w", kind, subject, err)
	}
	return e, nil
}

// Found gives a company without settings its first ones, and the service check.
func Found(w *Writer, name string, loc *time.Location) error {
	c, _, err := w.Tx.Company(w.Now)
	if err != nil || c.Name != "" {
		return err
	}
	settings := Settings(name, loc, w.Now)
	at := settings.Company.Zone.In(w.Now)
	if _, err := w.Append("record.created", ledger.Ref{Type: "sheet", ID: Service.Ref()}, Program, at, Service, nil); err != nil {
		return err
	}
	return w.Settle(at, settings)
}

// Settle records all of a company's settings, as they hold from a day on.
func (w *Writer) Settle(at time.Time, s ledger.Settings) error {
	change, err := ledger.SettingsFrom(at.Format(time.DateOnly), s)
	if err != nil {
		return err
	}
	_, err = w.Append("settings.changed", change.Subject(), Program, at, change, nil)
	return err
}

// Administrator makes a person an administrator, new or known.
func Administrator(w *Writer, id, name string) error {
	var p records.Person
	known, err := w.Tx.Load("person", id, &p)
	if err != nil {
		return err
	}
	ref := ledger.Ref{Type: "person", ID: id}
	if known {
		if p.Has(records.Administrator) {
			return nil
		}
		_, err = w.Append("record.amended", ref, Program, w.Now, map[string]any{"roles": append(p.Roles, records.Administrator)}, nil)
		return err
	}
	_, err = w.Append("record.created", ref, Program, w.Now, records.Person{Name: name, Short: name,
		Roles: []records.Role{records.Administrator}}, nil)
	return err
}
