// Package ordered puts lists in order.
package ordered

import "sort"

// Stable sorts a list in place, and leaves what is equal in the order it had. slices.SortStableFunc, which does the same, is compiled anew
// for each type of list, and a device loads the core.
func Stable[T any](list []T, compare func(a, b T) int) {
	sort.SliceStable(list, func(i, j int) bool { return compare(list[i], list[j]) < 0 })
}
