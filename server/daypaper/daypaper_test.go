package daypaper_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/paper/papertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/daypaper"
)

// A day is on paper whole, however many stops it has, and a day without any says so.
func TestPrint(t *testing.T) {
	at := time.Date(2026, 3, 10, 8, 0, 0, 0, time.UTC)
	d := daypaper.Day{Company: "Lund Pumps", Person: "Ansa Vane", Begin: at.Truncate(24 * time.Hour)}
	empty, err := daypaper.Print(d, at)
	require.NoError(t, err)
	assert.Contains(t, papertest.Text(t, empty), "Nothing is planned.")
	for i := range 12 {
		d.Stops = append(d.Stops, daypaper.Stop{Visit: work.Visit{Start: at.Add(time.Duration(i) * time.Hour), Minutes: 90},
			Order: work.Order{Number: "4127", Problem: "Pump hums", PromiseFrom: at, PromiseTo: at.AddDate(0, 0, 1)},
			Site:  records.Site{Name: "Skarrow Weir", Address: "2 Slip Lane", Hazard: "Deep water"}, Lead: "Bero Orme",
			With: []string{"Cathal Pell"}, Things: []string{"Work boat"}, Parts: []string{"2 × Seal"}})
	}
	pdf, err := daypaper.Print(d, at)
	require.NoError(t, err)
	got := papertest.Text(t, pdf)
	for _, want := range []string{"Tuesday 10 March 2026", "Ansa Vane", "08:00", "19:00", "Skarrow Weir", "1 h 30",
		"08:00 to 11 March, 08:00", "Bero Orme", "Cathal Pell", "Work boat, 2 × Seal", "Deep water"} {
		assert.Contains(t, got, want)
	}
}
