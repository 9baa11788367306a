package labor_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/labor"
)

// hm writes seconds as 1:30.
func hm(s int64) string { return fmt.Sprintf("%d:%02d", s/3600, s/60%60) }

func pay(p labor.Paid) string {
	return fmt.Sprintf("normal %s, overtime %s, double %s, unpaid %s", hm(p.Normal), hm(p.Overtime), hm(p.Double), hm(p.Unpaid))
}

func why(p labor.Paid) string {
	var out []string
	for _, w := range p.Why {
		out = append(out, fmt.Sprintf("%s %d", w.Code.Code, w.Seconds/60))
	}
	return strings.Join(out, ", ")
}

func TestPay(t *testing.T) {
	const long = "08:00 work A, 18:30 stop A" // ten and a half hours, on a Tuesday
	for name, c := range map[string]struct {
		rules     labor.Terms
		card      string
		want, why string
	}{
		"no rules: every second at the normal rate": {labor.Terms{}, "08:00 travel A, 08:20 work A, 10:07 stop A",
			"normal 2:07, overtime 0:00, double 0:00, unpaid 0:00", "pay.clocked 127"},
		"a break is unpaid, a wait is not": {labor.Terms{}, "08:00 work A, 09:00 break A, 09:30 wait A, 10:00 work A, 11:00 stop A",
			"normal 2:30, overtime 0:00, double 0:00, unpaid 0:30", "pay.clocked 180, pay.break -30"},
		"own time counts nowhere": {labor.Terms{}, "08:00 off, 09:00 indirect yard, 10:00 stop",
			"normal 1:00, overtime 0:00, double 0:00, unpaid 0:00", "pay.clocked 60"},
		"rounded to the nearest quarter of the day": {labor.Terms{Round: labor.Rounding{Increment: 15}}, "08:00 work A, 09:08 stop A",
			"normal 1:15, overtime 0:00, double 0:00, unpaid 0:00", "pay.clocked 68, pay.rounded_day 7"},
		"rounded down": {labor.Terms{Round: labor.Rounding{Increment: 15, Way: "down"}}, "08:00 work A, 09:14 stop A",
			"normal 1:00, overtime 0:00, double 0:00, unpaid 0:00", "pay.clocked 74, pay.rounded_day -14"},
		"rounded on each stamp": {labor.Terms{Round: labor.Rounding{Increment: 6, Way: "up", On: "stamps"}},
			"08:01 travel A, 08:20 work A, 09:01 stop A",
			"normal 1:00, overtime 0:00, double 0:00, unpaid 0:00", "pay.clocked 60"},
		"rounded on stamps, nearest": {labor.Terms{Round: labor.Rounding{Increment: 15, On: "stamps"}}, "08:05 work A, 09:10 stop A",
			"normal 1:15, overtime 0:00, double 0:00, unpaid 0:00", "pay.clocked 65, pay.rounded_stamps 10"},
		"a break that was not taken is taken off": {labor.Terms{BreakAfter: 360, BreakMinutes: 30}, "08:00 work A, 15:00 stop A",
			"normal 6:30, overtime 0:00, double 0:00, unpaid 0:30", "pay.clocked 420, pay.break_missing -30"},
		"only what lacks of it": {labor.Terms{BreakAfter: 360, BreakMinutes: 30}, "08:00 work A, 12:00 break A, 12:20 work A, 15:00 stop A",
			"normal 6:30, overtime 0:00, double 0:00, unpaid 0:30", "pay.clocked 420, pay.break -20, pay.break_missing -10"},
		"who clocked off for lunch has had a break": {labor.Terms{BreakAfter: 360, BreakMinutes: 30},
			"08:00 work A, 12:00 stop A, 12:30 work A, 15:00 stop A",
			"normal 6:30, overtime 0:00, double 0:00, unpaid 0:00", "pay.clocked 390"},
		"and who was off in between": {labor.Terms{BreakAfter: 360, BreakMinutes: 30}, "08:00 work A, 12:00 off, 12:20 work A, 15:00 stop A",
			"normal 6:30, overtime 0:00, double 0:00, unpaid 0:10", "pay.clocked 400, pay.break_missing -10"},
		"not the first half hour from home": {labor.Terms{HomeTravel: 30},
			"07:00 travel A home, 07:50 work A, 09:00 travel B, 09:50 stop B",
			"normal 2:20, overtime 0:00, double 0:00, unpaid 0:30", "pay.clocked 170, pay.home_travel -30"},
		"a shorter drive from home is all one's own": {labor.Terms{HomeTravel: 30}, "07:00 travel A home, 07:20 work A, 08:00 stop A",
			"normal 0:40, overtime 0:00, double 0:00, unpaid 0:20", "pay.clocked 60, pay.home_travel -20"},
		"daily overtime": {labor.Terms{OvertimeAfter: 480}, long, "normal 8:00, overtime 2:30, double 0:00, unpaid 0:00",
			"pay.clocked 630, pay.overtime 150"},
		"and double time": {labor.Terms{OvertimeAfter: 480, DoubleAfter: 600}, long, "normal 8:00, overtime 2:00, double 0:30, unpaid 0:00",
			"pay.clocked 630, pay.double 30, pay.overtime 120"},
		"a rest day": {labor.Terms{RestDays: []int{2}, RestPay: "double"}, long,
			"normal 0:00, overtime 0:00, double 10:30, unpaid 0:00", "pay.clocked 630, pay.rest_day 630"},
		"a holiday": {labor.Terms{Holidays: []string{"2026-03-10"}, OvertimeAfter: 60}, long,
			"normal 0:00, overtime 10:30, double 0:00, unpaid 0:00", "pay.clocked 630, pay.holiday 630"},
	} {
		t.Run(name, func(t *testing.T) {
			p := labor.Pay(labor.Spans(at("20:00"), card(c.card)), labor.Zone{}, []labor.Rules{{Terms: c.rules}})["2026-03-10"]
			assert.Equal(t, c.want, pay(p))
			assert.Equal(t, c.why, why(p))
		})
	}
}

// A drive has its own minutes once, however midnight and corrections cut it.
func TestOwnMinutesOnceForEachDrive(t *testing.T) {
	rules := []labor.Rules{{Terms: labor.Terms{HomeTravel: 30}}}
	unpaid := func(now time.Time, c labor.Timecard) (out []string) {
		paid := labor.Pay(labor.Split(labor.Spans(now, c), labor.Zone{}), labor.Zone{}, rules)
		for _, d := range []string{"2026-03-10", "2026-03-11"} {
			out = append(out, hm(paid[d].Unpaid))
		}
		return out
	}
	night := card("23:40 travel home")
	assert.Equal(t, []string{"0:20", "0:10"}, unpaid(at("23:40").Add(time.Hour), night))

	day := card("07:00 travel A home, 08:00 work A, 09:00 travel B home, 09:10 stop B")
	assert.Equal(t, []string{"0:40", "0:00"}, unpaid(at("20:00"), day), "two drives")
	stop := labor.Piece{What: labor.What{Kind: labor.Wait}, Start: at("07:20"), End: at("07:25")}
	day.Corrections = []labor.Correction{{Entry: "x", At: at("18:00"), Pieces: []labor.Piece{stop}}}
	assert.Equal(t, []string{"0:40", "0:00"}, unpaid(at("20:00"), day), "20 minutes before the stop, 10 after it")

	home := func(from, to string) labor.Piece {
		return labor.Piece{What: labor.What{Kind: labor.Travel, Home: true}, Start: at(from), End: at(to)}
	}
	day = card("08:00 work A, 16:00 stop A")
	day.Corrections = []labor.Correction{{Entry: "x", At: at("18:00"), Pieces: []labor.Piece{home("07:00", "08:00"), home("16:00", "17:00")}}}
	assert.Equal(t, []string{"1:00", "0:00"}, unpaid(at("20:00"), day), "two drives of one correction")
	day.Corrections = append(day.Corrections, labor.Correction{Entry: "y", At: at("19:00"), Pieces: []labor.Piece{stop}})
	assert.Equal(t, []string{"1:00", "0:00"}, unpaid(at("20:00"), day), "of which one is cut")
}

// A week of five days of nine hours, over forty: the last day has the overtime. A week begins on Monday.
func TestOvertimeOfTheWeek(t *testing.T) {
	var spans []labor.Span
	for d := range 8 { // Monday 9 March to the next Monday, without the weekend
		day := time.Date(2026, 3, 9+d, 8, 0, 0, 0, time.UTC)
		if d != 5 && d != 6 {
			spans = append(spans, labor.Span{What: labor.What{Kind: labor.Work}, Start: day, End: day.Add(9 * time.Hour)})
		}
	}
	paid := labor.Pay(spans, labor.Zone{}, []labor.Rules{{Terms: labor.Terms{WeekAfter: 40 * 60}}})
	assert.Equal(t, "normal 9:00, overtime 0:00, double 0:00, unpaid 0:00", pay(paid["2026-03-12"]))
	assert.Equal(t, "normal 4:00, overtime 5:00, double 0:00, unpaid 0:00", pay(paid["2026-03-13"]))
	assert.Equal(t, "normal 9:00, overtime 0:00, double 0:00, unpaid 0:00", pay(paid["2026-03-16"]))
}

// A span over midnight into new terms: each part by the rules of its date.
func TestPayAcrossAChangeOfTerms(t *testing.T) {
	night := labor.Span{What: labor.What{Kind: labor.Work}, Start: at("20:00"), End: at("20:00").Add(8 * time.Hour)}
	rules := []labor.Rules{{From: "2026-01-01"}, {From: "2026-03-11", Terms: labor.Terms{Holidays: []string{"2026-03-11"}, RestPay: "double"}}}
	paid := labor.Pay(labor.Split([]labor.Span{night}, labor.Zone{}), labor.Zone{}, rules)
	assert.Equal(t, "normal 4:00, overtime 0:00, double 0:00, unpaid 0:00", pay(paid["2026-03-10"]))
	assert.Equal(t, "normal 0:00, overtime 0:00, double 4:00, unpaid 0:00", pay(paid["2026-03-11"]))
}

func anyRules(t *rapid.T, from string) labor.Rules {
	minutes := func(label string, max int) int { return rapid.IntRange(0, max).Draw(t, label) }
	return labor.Rules{From: from, Terms: labor.Terms{Round: labor.Rounding{Increment: minutes("increment", 30),
		Way: rapid.SampledFrom([]string{"", "nearest", "up", "down"}).Draw(t, "way"),
		On:  rapid.SampledFrom([]string{"", "stamps", "day"}).Draw(t, "on")},
		BreakAfter: minutes("after", 500), BreakMinutes: minutes("break", 60), HomeTravel: minutes("home", 60),
		OvertimeAfter: minutes("overtime", 600), DoubleAfter: minutes("double", 800), WeekAfter: minutes("week", 3000),
		RestDays: []int{rapid.IntRange(0, 6).Draw(t, "rest")}, RestPay: rapid.SampledFrom([]string{"", "overtime", "double"}).Draw(t,
			"restPay")}}
}

func TestPayProperties(t *testing.T) {
	now := at("00:00").Add(3 * 24 * time.Hour)
	loc, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	zone := labor.ZoneOf(loc, 2026, 2026)
	rapid.Check(t, func(t *rapid.T) {
		c := anyCard(t)
		rules := []labor.Rules{anyRules(t, "2026-01-01"), anyRules(t, "2026-03-11")}
		require.NoError(t, rules[0].Check())
		spans := labor.Split(labor.Spans(now, c), zone)
		clocked, sum := int64(0), int64(0)
		for _, s := range spans {
			if s.Kind != labor.Off {
				clocked += s.Seconds()
			}
		}
		for date, p := range labor.Pay(spans, zone, rules) {
			sum += p.Clocked
			require.Equal(t, p.Clocked+p.Rounded-p.Unpaid, p.Total(), "%s: minutes are conserved", date)
			for _, n := range []int64{p.Normal, p.Overtime, p.Double, p.Unpaid} {
				require.GreaterOrEqual(t, n, int64(0))
			}
			if p.Clocked > 0 {
				require.Equal(t, "pay.clocked", p.Why[0].Code.Code)
			}
		}
		require.Equal(t, clocked, sum, "what was clocked is in the days")
	})
}

func TestCharge(t *testing.T) {
	b := labor.Billing{Round: labor.Rounding{Increment: 15, Way: "up"}, Minimum: 60, EveningFrom: 18 * 60, MorningFrom: 7 * 60,
		Helper: "helper", Allowance: decimal.RequireFromString("25"),
		Rates: []labor.Rate{{Class: labor.Normal, Hour: decimal.RequireFromString("60")},
			{Class: labor.Evening, Hour: decimal.RequireFromString("90")}, {Class: labor.Weekend, Hour: decimal.RequireFromString("120")},
			{Skill: "uv", Class: labor.Normal, Hour: decimal.RequireFromString("72.50")},
			{Skill: "helper", Class: labor.Normal, Hour: decimal.RequireFromString("40")}}}
	require.NoError(t, b.Check())
	for name, c := range map[string]struct {
		lead, helper, skill string
		travel              bool
		want                string
	}{
		"the minimum":            {"08:00 work A, 08:20 stop A", "", "", false, "ann normal 1:00 60; 85"},
		"a skill's own rate":     {"08:00 work A, 10:05 stop A", "", "uv", false, "ann normal 2:15 163.13; 188.13"},
		"into the evening":       {"17:00 work A, 19:00 stop A", "", "", false, "ann normal 1:00 60, ann evening 1:00 90; 175"},
		"before the morning":     {"06:00 work A, 08:00 stop A", "", "", false, "ann normal 1:00 60, ann evening 1:00 90; 175"},
		"a skill in the evening": {"18:00 work A, 19:00 stop A", "", "uv", false, "ann evening 1:00 90; 115"},
		"with a helper": {"08:00 work A, 10:00 stop A", "08:30 work A, 10:00 stop A", "uv", false,
			"ann normal 2:00 145, bob normal 1:30 60; 230"},
		"travel is not billed": {"08:00 travel A, 09:00 work A, 10:00 stop A", "", "", false, "ann normal 1:00 60; 85"},
		"travel is billed":     {"08:00 travel A, 09:00 work A, 10:00 stop A", "", "", true, "ann normal 2:00 120; 145"},
		"nobody worked":        {"08:00 travel A, 09:00 stop A", "", "", false, "; 0"},
	} {
		t.Run(name, func(t *testing.T) {
			crew := []labor.Crew{{Person: "ann", Lead: true, Spans: labor.Spans(at("20:00"), card(c.lead))}}
			if c.helper != "" {
				crew = append(crew, labor.Crew{Person: "bob", Spans: labor.Spans(at("20:00"), card(c.helper))})
			}
			b.Travel = c.travel
			bill := labor.Charge(crew, c.skill, b, "EUR", labor.Zone{}, nil)
			var lines []string
			for _, l := range bill.Lines {
				lines = append(lines, fmt.Sprintf("%s %s %s %s", l.Person, l.Class, hm(l.Billed), l.Amount))
				sum := int64(0)
				for _, w := range l.Why {
					sum += w.Seconds
				}
				assert.Equal(t, l.Billed, sum, "the line explains itself")
			}
			assert.Equal(t, c.want, strings.Join(lines, ", ")+"; "+bill.Total.String())
		})
	}
}

// Time of two classes is rounded once, not once for each class.
func TestChargeRoundsOnceForEachPerson(t *testing.T) {
	bill := func(way, stamps string) (out []string) {
		b := labor.Billing{Round: labor.Rounding{Increment: 15, Way: way}, EveningFrom: 18 * 60, MorningFrom: 7 * 60}
		for _, l := range labor.Charge([]labor.Crew{{Person: "ann", Spans: labor.Spans(at("20:00"), card(stamps))}}, "", b, "EUR",
			labor.Zone{}, nil).Lines {
			out = append(out, fmt.Sprint(l.Class, " ", hm(l.Billed)))
		}
		return out
	}
	assert.Equal(t, []string{"normal 0:20", "evening 0:10"}, bill("up", "17:45 work A, 18:10 stop A"), "25 minutes are 30")
	assert.Equal(t, []string{"normal 0:08", "evening 0:07"}, bill("down", "17:50 work A, 18:07 stop A"), "17 minutes are 15")
	assert.Equal(t, []string{"normal 0:00", "evening 0:00"}, bill("down", "17:55 work A, 18:07 stop A"), "12 minutes are none")
}

// The evening by a table of its own: whether each hour of a day is in it, from one time of day to another.
func TestEvenings(t *testing.T) {
	for name, c := range map[string]struct {
		from, to int    // minutes past midnight
		hours    string // of 24: e is evening, n is not
	}{
		"until morning":          {18 * 60, 7 * 60, "eeeeeeennnnnnnnnnneeeeee"},
		"after midnight":         {1 * 60, 5 * 60, "neeeennnnnnnnnnnnnnnnnnn"},
		"from midnight":          {0, 5 * 60, "eeeeennnnnnnnnnnnnnnnnnn"},
		"until midnight":         {18 * 60, 0, "nnnnnnnnnnnnnnnnnneeeeee"},
		"until midnight, as 24h": {18 * 60, 24 * 60, "nnnnnnnnnnnnnnnnnneeeeee"},
		"none":                   {7 * 60, 7 * 60, "nnnnnnnnnnnnnnnnnnnnnnnn"},
	} {
		var got strings.Builder
		for h := range 24 {
			start := at("00:00").Add(time.Duration(h) * time.Hour)
			bill := labor.Charge([]labor.Crew{{Spans: []labor.Span{{What: labor.What{Kind: labor.Work}, Start: start, End: start.Add(time.Hour)}}}},
				"", labor.Billing{EveningFrom: c.from, MorningFrom: c.to}, "EUR", labor.Zone{}, nil)
			require.Len(t, bill.Lines, 1, name)
			got.WriteByte(bill.Lines[0].Class[0])
		}
		assert.Equal(t, c.hours, got.String(), name)
	}
}

func TestChargeOnTheWeekend(t *testing.T) {
	sat := time.Date(2026, 3, 14, 9, 0, 0, 0, time.UTC)
	b := labor.Billing{Rates: []labor.Rate{{Class: labor.Weekend, Hour: decimal.NewFromInt(100)}}}
	bill := labor.Charge([]labor.Crew{{Person: "ann", Lead: true,
		Spans: []labor.Span{{What: labor.What{Kind: labor.Work}, Start: sat, End: sat.Add(90 * time.Minute)}}}}, "", b, "EUR", labor.Zone{}, nil)
	require.Len(t, bill.Lines, 1)
	assert.Equal(t, labor.Weekend, bill.Lines[0].Class)
	assert.Equal(t, "150", bill.Total.String())
}

func TestTermsThatCanNotBe(t *testing.T) {
	assert.Error(t, labor.Terms{HomeTravel: -1}.Check())
	assert.Error(t, labor.Terms{Round: labor.Rounding{Way: "sideways"}}.Check())
	assert.Error(t, labor.Billing{Rates: []labor.Rate{{Class: "dawn"}}}.Check())
}
