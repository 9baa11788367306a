package work_test

import (
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/work"
)

var nine = time.Date(2026, 3, 10, 9, 0, 0, 0, time.UTC)

func read(entry string, minutes int, point string, level reading.Level, doubt reading.Doubt) reading.Reading {
	return reading.Reading{Line: audit.Line{Entry: entry, At: nine.Add(time.Duration(minutes) * time.Minute), Person: "ann"},
		Asset: "A1", Point: point, Value: decimal.NewFromInt(4), Unit: "bar", Level: level, Doubt: doubt}
}

func TestAttentions(t *testing.T) {
	struck := read("9", 9, "flow", reading.AlarmLow, reading.Outside)
	struck.Struck = true
	v := work.Visit{
		Readings: []reading.Reading{
			read("1", 1, "press", reading.AlarmHigh, ""), read("2", 2, "press", reading.High, ""), // mended from alarm to warning
			read("4", 4, "temp", reading.OK, ""), read("3", 3, "temp", reading.AlarmLow, ""), // put right, heard of in the other order
			read("5", 5, "hours", reading.OK, reading.Fell), struck,
		},
		Proposals: []work.Proposal{
			{Line: audit.Line{Entry: "p1"}, Kind: work.Recommendation, Text: "Change the seal", Part: "SK",
				About: "sheet s@1 recommendation dry"},
			{Line: audit.Line{Entry: "p2"}, Kind: work.FollowUp, Text: "Bring a coupling"},
			{Line: audit.Line{Entry: "p3", Struck: true}, Kind: work.FollowUp, Text: "Nothing"},
		},
		Handled: map[string]work.Handled{"doubt 5": {Person: "noll", Reason: "new counter"}},
	}
	states := []sheet.State{{Sheet: "s@1", Alerts: []sheet.Alert{
		{Kind: sheet.Failed, Question: "dry", Text: "Seal dry? no"}, {Kind: sheet.Recommendation, Question: "dry", Text: "Change the seal",
			Recommend: &sheet.Recommend{Part: "SK"}},
		{Kind: sheet.Hazard, Question: "guard", Item: "r1", Text: "Guard missing"},
	}}}
	var got []string
	for _, a := range v.Attentions("A1", states) {
		line := string(a.Concern) + " " + a.Text + a.Point
		if a.Handled != nil {
			line += " handled"
		}
		got = append(got, line)
	}
	assert.Equal(t, []string{"hazard Guard missing", "failed Seal dry? no", "follow_up Bring a coupling", "warning press",
		"recommendation Change the seal", "doubt hours handled"}, got,
		"the most pressing first; what became a proposal once, what was struck out or put right not at all")
	assert.Empty(t, work.Visit{}.Attentions("", nil))
}

func TestGivenForASheet(t *testing.T) {
	about := work.About{Sheet: "s@1", Question: "plate"}
	v := work.Visit{
		Files: []work.File{{Line: audit.Line{Entry: "1"}, About: about}, {Line: audit.Line{Entry: "2", Struck: true}, About: about},
			{Line: audit.Line{Entry: "3"}, About: work.About{Sheet: "s@1", Question: "wall", Item: "r1"}},
			{Line: audit.Line{Entry: "4"}}, {Line: audit.Line{Entry: "5"}, About: work.About{Sheet: "other@1", Question: "plate"}}},
		Readings: []reading.Reading{
			read("2", 2, "press", "", ""), read("1", 1, "press", "", ""),
		},
		SheetsBegun: map[string]time.Time{"s@1": nine},
	}
	g := v.Given("s@1", "A1")
	assert.Equal(t, map[string]int{"plate": 1, "wall@r1": 1}, g.Photos)
	assert.Equal(t, "2", g.Readings[sheet.ReadingKey("A1", "press")].Entry, "the later one")
	assert.Equal(t, nine, g.Begun)
	assert.Equal(t, "A1", g.Asset)
}

func TestAboutIsChecked(t *testing.T) {
	assert.NoError(t, work.About{}.Check())
	assert.NoError(t, work.About{Asset: "A1", Point: "press"}.Check())
	for _, a := range []work.About{{Asset: "a b"}, {Sheet: "../x"}, {Item: strings.Repeat("x", 81)}} {
		assert.Error(t, a.Check())
	}
}
