package recurrence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/calendar/recurrence"
	"iter.example/iter/core/msg"
)

func days(t require.TestingT, rule, begin, after, until string) []string {
	r, err := recurrence.Parse(rule)
	require.NoError(t, err)
	return r.Days(begin, after, until, 1000)
}

func TestDays(t *testing.T) {
	for _, c := range []struct {
		name, rule, begin, after, until string
		want                            []string
	}{
		{"every three months", "FREQ=MONTHLY;INTERVAL=3", "2026-01-15", "", "2026-08-01", []string{"2026-01-15", "2026-04-15", "2026-07-15"}},
		{"after a day", "FREQ=MONTHLY;INTERVAL=3", "2026-01-15", "2026-04-15", "2026-08-01", []string{"2026-07-15"}},
		{"the second Tuesday", "FREQ=MONTHLY;BYDAY=2TU", "2026-01-01", "", "2026-03-31", []string{"2026-01-13", "2026-02-10", "2026-03-10"}},
		{"the last Friday", "FREQ=MONTHLY;BYDAY=-1FR", "2026-01-01", "", "2026-02-28", []string{"2026-01-30", "2026-02-27"}},
		{"every fortnight", "FREQ=WEEKLY;INTERVAL=2", "2026-03-20", "", "2026-04-20", []string{"2026-03-20", "2026-04-03", "2026-04-17"}},
		{"in a season", "FREQ=MONTHLY;BYMONTH=5,6,9", "2026-01-10", "", "2027-05-31",
			[]string{"2026-05-10", "2026-06-10", "2026-09-10", "2027-05-10"}},
		{"a month that lacks the day", "FREQ=MONTHLY", "2026-01-31", "", "2026-05-01",
			[]string{"2026-01-31", "2026-02-28", "2026-03-31", "2026-04-30"}},
		{"the day that leap years have", "FREQ=YEARLY", "2024-02-29", "", "2028-12-31",
			[]string{"2024-02-29", "2025-02-28", "2026-02-28", "2027-02-28", "2028-02-29"}},
		{"a day of the month that is asked for is the RFC's", "FREQ=MONTHLY;BYMONTHDAY=31", "2026-01-01", "", "2026-04-30",
			[]string{"2026-01-31", "2026-03-31"}},
		{"over the night the clock changes", "FREQ=DAILY", "2026-03-28", "", "2026-03-31",
			[]string{"2026-03-28", "2026-03-29", "2026-03-30", "2026-03-31"}},
		{"no day that reads", "FREQ=DAILY", "28 March", "", "2026-03-31", nil},
	} {
		assert.Equal(t, c.want, days(t, c.rule, c.begin, c.after, c.until), c.name)
	}
}

func TestRulesAreChecked(t *testing.T) {
	for _, c := range []struct{ rule, begin, code string }{
		{"FREQ=WEEKLY", "2026-01-01", ""},
		{"now and then", "2026-01-01", "recurrence.unreadable"},
		{"", "2026-01-01", "recurrence.unreadable"},
		{"FREQ=MONTHLY;BYMONTH=13", "2026-01-01", "recurrence.unreadable"},
		{"FREQ=HOURLY", "2026-01-01", "recurrence.often"},
		{"FREQ=DAILY;INTERVAL=0", "2026-01-01", "recurrence.every"},
		{"FREQ=DAILY;INTERVAL=-2", "2026-01-01", "recurrence.every"},
		{"FREQ=DAILY;INTERVAL=100000", "2026-01-01", "recurrence.every"},
		{"FREQ=DAILY;COUNT=3", "2026-01-01", "recurrence.parts"},
		{"FREQ=DAILY;UNTIL=20270101", "2026-01-01", "recurrence.parts"},
		{"FREQ=DAILY;BYHOUR=7", "2026-01-01", "recurrence.parts"},
		{"FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30", "2026-01-01", "recurrence.never"},
		{"FREQ=DAILY;BYMONTH=2;BYMONTHDAY=31", "2026-01-01", "recurrence.never"},
		{"FREQ=DAILY", "soon", "recurrence.begin"},
	} {
		err := recurrence.Check(c.rule, c.begin)
		if c.code == "" {
			assert.NoError(t, err, c.rule)
			continue
		}
		require.Error(t, err, c.rule)
		assert.Equal(t, c.code, msg.From(err).Code, c.rule)
	}
}

// Days in two parts are those in one, and a rule by month that says nothing of the day has one in every month.
func TestDaysInParts(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		begin := rapid.SampledFrom([]string{"2025-12-31", "2024-02-29", "2026-01-30", "2026-05-17"}).Draw(t, "begin")
		rule := rapid.SampledFrom([]string{"FREQ=MONTHLY", "FREQ=MONTHLY;INTERVAL=5", "FREQ=WEEKLY;BYDAY=MO,TH", "FREQ=YEARLY",
			"FREQ=DAILY;INTERVAL=17", "FREQ=MONTHLY;BYMONTH=4,5,6,7;BYDAY=1WE"}).Draw(t, "rule")
		all := days(t, rule, begin, "", "2029-12-31")
		cut := all[rapid.IntRange(0, len(all)-1).Draw(t, "cut")]
		assert.Equal(t, all, append(days(t, rule, begin, "", cut), days(t, rule, begin, cut, "2029-12-31")...))
		if rule == "FREQ=MONTHLY" {
			for i := 1; i < len(all); i++ {
				assert.NotEqual(t, all[i-1][:7], all[i][:7])
			}
			assert.GreaterOrEqual(t, len(all), 12*3)
		}
	})
}

func FuzzParse(f *testing.F) {
	f.Add("FREQ=MONTHLY;BYDAY=2TU", "2026-01-31")
	f.Fuzz(func(t *testing.T, rule, begin string) {
		if recurrence.Check(rule, begin) == nil {
			assert.NotEmpty(t, days(t, rule, begin, "", "9999-12-31")[:1])
		}
	})
}
