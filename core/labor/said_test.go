package labor_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/labor"
)

// What was said last of a stretch of work stands, in whatever order it is heard of; travel has no sort.
func TestWhatIsSaidOfAStretch(t *testing.T) {
	at := func(n int) time.Time { return time.Date(2026, 3, 10, 8, n, 0, 0, time.UTC) }
	c := labor.Timecard{Person: "ann", Date: "2026-03-10", Stamps: []labor.Stamp{
		{Entry: "e1", At: at(0), What: labor.What{Kind: labor.Travel, Visit: "V1"}},
		{Entry: "e2", At: at(20), What: labor.What{Kind: labor.Work, Visit: "V1"}},
		{Entry: "e3", At: at(50), What: labor.What{Kind: labor.Stop, Visit: "V1"}}}}
	said := func(entry string, n int, from, sort, text string) labor.Said {
		return labor.Said{Line: audit.Line{Entry: entry, At: at(n)}, From: from, Sort: sort, Text: text}
	}
	c.Said = []labor.Said{said("s2", 58, "e2", "repair", "Seal changed"), said("s1", 57, "e2", "service", ""),
		said("s3", 59, "e1", "repair", "")}
	spans := labor.Usually(labor.Spans(at(59), c), "service")
	require.Len(t, spans, 2)
	assert.Equal(t, "", spans[0].Sort)
	assert.Equal(t, "repair Seal changed", spans[1].Sort+" "+spans[1].Text)
	c.Said = nil
	assert.Equal(t, "service", labor.Usually(labor.Spans(at(59), c), "service")[1].Sort, "as they usually do")
}
