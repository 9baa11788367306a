package work

import (
	"maps"

	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
)

// Derive computes the derived values of an asset from what was read on the visit, the last of each point, and what its history has from
// visits before. A visit on which nothing was read of the asset has none.
func (v Visit) Derive(visit, asset string, kind records.AssetKind, a records.Asset, h reading.History) []reading.DerivedValue {
	now, before := map[string]reading.Result{}, map[string]reading.Result{}
	for _, r := range v.Readings {
		if was, ok := now[r.Point]; r.Asset == asset && !r.Struck && (!ok || !r.At.Before(was.At)) {
			now[r.Point] = reading.Result{Entry: r.Entry, At: r.At, Visit: visit, Value: r.Value, Unit: r.Unit, Replaced: r.Replaced}
		}
	}
	if len(now) == 0 {
		return []reading.DerivedValue{}
	}
	for point, r := range now {
		if list := h.Earlier(point, visit, r.At); len(list) > 0 {
			before[point] = list[len(list)-1]
		}
	}
	return reading.Derive(kind.Derived, kind.PointsOf(a), now, before)
}

// Doubt takes over from an asset's history which of the visit's readings can hardly be right.
func (v *Visit) Doubt(asset string, h reading.History) {
	for i, r := range v.Readings {
		if d, ok := h.DoubtOf(r.Point, r.Entry); ok && r.Asset == asset {
			v.Readings[i].Doubt = d
		}
	}
}

// NoteDerived keeps which derived values of an asset are out of their limits, as they were seen: like a reading's level, that is not
// rewritten when limits change later.
func (v *Visit) NoteDerived(asset string, values []reading.DerivedValue) {
	var out []reading.DerivedValue
	for _, d := range values {
		if d.Value != nil && d.Level != reading.OK {
			out = append(out, d)
		}
	}
	if v.Derived = maps.Clone(v.Derived); v.Derived == nil {
		v.Derived = map[string][]reading.DerivedValue{}
	}
	if v.Derived[asset] = out; len(out) == 0 {
		delete(v.Derived, asset)
	}
}
