package signoff_test

import (
	"fmt"

	"iter.example/iter/core/signoff"
)

func ExampleCanonical() {
	b, _ := signoff.Canonical(map[string]any{"b": 1.50, "a": "é"})
	fmt.Println(string(b))
	// Output: {"a":"é","b":1.5}
}

func ExampleStrokes_CheckDrawn() {
	fmt.Println(signoff.Strokes{{{5, 5}, {6, 5}}, {{300, 5}, {301, 5}}}.CheckDrawn()) // two dots
	fmt.Println(signoff.Strokes{{{5, 5}, {80, 90}}, {{5, 90}, {80, 5}}}.CheckDrawn()) // a cross
	// Output:
	// signature.empty
	// <nil>
}

func ExampleStrokes_Check() {
	fmt.Println(signoff.Strokes{{{5, 5}}}.Check())
	fmt.Println(signoff.Strokes{{{5, 5}, {400, 90}}}.Check())
	// Output:
	// signature.empty
	// <nil>
}
