package unit_test

import (
	"fmt"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/unit"
)

func ExampleConvert() {
	v, exact, err := unit.Convert(decimal.RequireFromString("36"), "m³/h", "l/s")
	fmt.Println(v, exact, err)
	v, exact, err = unit.Convert(decimal.NewFromInt(30), "psi", "bar")
	fmt.Println(unit.Shown(v), exact, err)
	_, _, err = unit.Convert(decimal.NewFromInt(1), "bar", "m")
	fmt.Println(err)
	// Output:
	// 10 true <nil>
	// 2.0684 false <nil>
	// unit.unlike from=bar to=m
}

func ExampleLike() {
	fmt.Println(unit.Like("m³/h"))
	fmt.Println(unit.Like("pH"))
	// Output:
	// [m³/h l/s l/min l/h gal/min cfm]
	// [pH]
}
