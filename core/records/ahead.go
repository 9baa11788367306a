package records

import "slices"

// Ahead is how far ahead a technician sees their plan.
type Ahead string

const (
	AheadAll   Ahead = "all"   // as far as their device holds it
	AheadToday Ahead = "today" // and what is left of the days before
	AheadNext  Ahead = "next"  // the next visit alone
)

// Values lists them, for generated types.
func (Ahead) Values() []string {
	return []string{string(AheadAll), string(AheadToday), string(AheadNext)}
}

// Known tells whether it is one of them, or says nothing.
func (a Ahead) Known() bool { return a == "" || slices.Contains(a.Values(), string(a)) }
