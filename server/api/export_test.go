package api

import (
	"context"
	"time"

	"iter.example/iter/server/store"
)

// Announce tells the lines for live events of a change, as the store does.
func (s *Server) Announce(c store.Changed) { s.announce(c) }

// SetSilence shortens for a test how long a line may carry nothing, until the function it gives is called.
func SetSilence(d time.Duration) func() {
	before := silence
	silence = d
	return func() { silence = before }
}

// PlanAhead plans the coming days by the company's timetable, as of a moment.
func (s *Server) PlanAhead(ctx context.Context, now time.Time) error { return s.planAhead(ctx, now) }
