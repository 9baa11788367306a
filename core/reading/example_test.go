package reading_test

import (
	"fmt"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/reading"
)

// A counter that passes zero at 100,000 hours, and what it counted over that.
func ExamplePoint_Moved() {
	hours := reading.Point{ID: "h", Name: "Run hours", Unit: "h", Counter: true, RollsAt: dec("100000")}
	last := reading.Result{Value: decimal.NewFromInt(99990), Unit: "h"}
	for _, shows := range []int64{99999, 12, 60000} {
		moved, ok := hours.Moved(last, reading.Result{Value: decimal.NewFromInt(shows), Unit: "h"})
		fmt.Println(shows, moved, ok)
	}
	// Output:
	// 99999 9 true
	// 12 22 true
	// 60000 60010 false
}

// What somebody typed, in the gauge's unit, against limits in the company's and what was measured before.
func ExamplePoint_Weigh() {
	pressure := reading.Point{ID: "p", Name: "Pressure", Unit: "bar", Limits: reading.Limits{WarnLow: dec("3")}}
	before := []reading.Result{result(0, "4.1", "bar"), result(1, "4.3", "bar"), result(2, "4.2", "bar")}
	for _, typed := range []string{"60", "35", "430"} {
		j := pressure.Weigh(before, result(3, typed, "psi"))
		fmt.Printf("%s psi: %s bar, %s, doubt %q\n", typed, j.Value.Round(2), j.Level, j.Doubt)
	}
	j := pressure.Weigh(before, result(3, "45", "bar"))
	fmt.Printf("45 bar: %s, doubt %q\n", j.Level, j.Doubt)
	// Output:
	// 60 psi: 4.14 bar, ok, doubt ""
	// 35 psi: 2.41 bar, low, doubt ""
	// 430 psi: 29.65 bar, ok, doubt ""
	// 45 bar: ok, doubt "jump"
}
