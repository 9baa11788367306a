// Package figure is what benchmarks measured, as they hand it on: a line of JSON for each.
package figure

import (
	"bufio"
	"encoding/json"
	"io"
)

// Figure is what was measured of one thing that somebody waits for.
type Figure struct {
	Name  string  `json:"name"`
	Value float64 `json:"value"`
	Unit  string  `json:"unit"`
	Limit float64 `json:"limit,omitempty"` // in Unit; 0: none
	Ratio float64 `json:"ratio"`           // of Value to the run's yardstick
	// More tells that more is better: Limit is the least then.
	More bool `json:"more,omitempty"`
}

// Read reads figures.
func Read(r io.Reader) (out []Figure, err error) {
	lines := bufio.NewScanner(r)
	for lines.Scan() {
		var f Figure
		if err := json.Unmarshal(lines.Bytes(), &f); err != nil {
			return nil, err
		}
		out = append(out, f)
	}
	return out, lines.Err()
}

// Write writes figures.
func Write(w io.Writer, figures []Figure) error {
	lines := json.NewEncoder(w)
	for _, f := range figures {
		if err := lines.Encode(f); err != nil {
			return err
		}
	}
	return nil
}
