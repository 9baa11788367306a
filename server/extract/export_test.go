package extract

import (
	"time"

	"github.com/paulmach/osm"

	"iter.example/iter/core/roads"
)

// Driven tells how a way is driven: its class, and kilometres an hour in each direction.
func Driven(tags osm.Tags) (class roads.Class, there, back float64) {
	r, ok := drive(tags)
	if !ok {
		return "", 0, 0
	}
	return r.class, r.there, r.back
}

// Duration reads how long something takes.
func Duration(text string) (time.Duration, bool) { return duration(text) }
