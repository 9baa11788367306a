package area_test

import (
	"fmt"

	"iter.example/iter/core/area"
)

// A floor with a round pit, and a corner measured with a tape: three sides and the way across.
func ExampleArea_Square() {
	a := area.Area{Unit: "m", Shapes: []area.Shape{
		{Form: area.Rectangle, Sizes: sizes("4.2 3")},
		{Form: area.Circle, Sizes: sizes("1"), Cut: true},
		{Form: area.Polygon, Sizes: sizes("3 4 5")},
	}}
	fmt.Println(a.Square())
	// Output: 17.8146 <nil>
}
