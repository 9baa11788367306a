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

func ExampleStrokes_Check() {
	fmt.Println(signoff.Strokes{{{5, 5}}}.Check())
	fmt.Println(signoff.Strokes{{{5, 5}, {400, 90}}}.Check())
	// Output:
	// signature.empty
	// <nil>
}
