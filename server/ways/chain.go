package ways

import (
	"context"
	"time"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
)

// Chain are the ways from each of some places to the next: how long and how far, without lines.
type Chain map[[2]records.Point]*roads.Way

// Ways gives the way from a place to each of several; nil for those that are not of the chain, and where there is none.
func (c Chain) Ways(from records.Point, to ...records.Point) []*roads.Way {
	out := make([]*roads.Way, len(to))
	for i, p := range to {
		if w := c[[2]records.Point{from, p}]; w != nil {
			way := *w
			out[i] = &way
		}
	}
	return out
}

// Chain gives the ways from each of some places to the next; none without roads.
func (r *Roads) Chain(ctx context.Context, now time.Time, places []records.Point) (Chain, error) {
	out := Chain{}
	if r.remote != nil {
		a, err := r.remote.answers(ctx, now, places, func(from, to int) bool { return to == from+1 })
		if err != nil {
			return out, err
		}
		for i := 1; i < len(places); i++ {
			out[[2]records.Point{places[i-1], places[i]}] = a.Ways(places[i-1], places[i])[0]
		}
		return out, nil
	}
	region, err := r.Region()
	if region == nil {
		return out, err
	}
	for i := 1; i < len(places); i++ {
		pair := [2]records.Point{places[i-1], places[i]}
		from, okFrom := region.Snap(pair[0])
		to, okTo := region.Snap(pair[1])
		if !okFrom || !okTo {
			continue
		}
		if l := region.Table([]roads.Place{from}, []roads.Place{to})[0][0]; l.Known {
			out[pair] = &roads.Way{Seconds: l.Seconds, Ferry: l.Ferry, Metres: l.Metres, Parts: []roads.Part{}}
		}
	}
	return out, nil
}
