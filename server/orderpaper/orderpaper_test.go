package orderpaper_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/paper/papertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/orderpaper"
)

func TestPrint(t *testing.T) {
	at := time.Date(2026, 3, 10, 8, 0, 0, 0, time.UTC)
	var tasks []work.Task
	for range 30 { // more than fit on a page
		tasks = append(tasks, work.Task{ID: "t1", Name: "Grease the bearings", Minutes: 15, Asset: "A2"})
	}
	o := orderpaper.Order{ID: "W1", Company: "Lund Pumps", Order: work.Order{Number: "4127", Problem: "Panel hums",
		Instruction: "Bring the ladder", Tasks: tasks, PromiseFrom: at, PromiseTo: at.Add(2 * time.Hour)},
		Customer: records.Customer{Name: "Quill Dairy"},
		Site:     records.Site{Name: "Weir", Hazard: "Dog", Contact: records.Contact{Name: "Tam Hale"}},
		Machines: map[string]string{"A2": "Dosing unit"}, Parts: []orderpaper.Part{{Number: "P-7", Name: "Seal", Quantity: "2 pcs"}},
		Visits: []orderpaper.Visit{{Start: at, Technician: "Ann Vale"}}}
	pdf, err := orderpaper.Print(o, at)
	require.NoError(t, err)
	require.Equal(t, "%PDF", string(pdf[:4]))
	out := papertest.Text(t, pdf)
	for _, want := range []string{"Work order 4127", "Quill Dairy", "Weir", "Panel hums", "Bring the ladder", "Dog", "Tam Hale", "Ann Vale",
		"P-7", "Dosing unit, 15 min", "10 March 2026, 08:00"} {
		assert.Contains(t, out, want)
	}
	assert.Equal(t, len(tasks), strings.Count(out, "Grease the bearings"))
}
