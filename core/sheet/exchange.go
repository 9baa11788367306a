package sheet

import (
	"bytes"
	"encoding/json"
	"io"
	"maps"
	"slices"
	"strings"
	"unicode"

	"iter.example/iter/core/msg"
)

// MaxFile is the largest sheet file, in bytes.
const MaxFile = 200 << 10

// Parse reads a sheet file, which is the JSON of a Sheet (docs/sheets.md). It is read as strictly as it was written by a stranger: no
// unknown fields, nothing after it, no programs, no control characters, and no deeper than a sheet is. Whether it can be published is for
// Check; a file with mistakes in it can be opened in the designer.
func Parse(raw []byte) (Sheet, error) {
	var s Sheet
	if len(raw) > MaxFile {
		return s, msg.New("sheet.file_large", "max", "200")
	}
	var head struct {
		Format int `json:"format"`
	}
	if json.Unmarshal(raw, &head) == nil && head.Format > Format {
		return s, msg.New("sheet.newer")
	}
	d := json.NewDecoder(bytes.NewReader(raw))
	d.DisallowUnknownFields()
	if err := d.Decode(&s); err != nil {
		return s, msg.New("sheet.file")
	}
	if _, err := d.Token(); err != io.EOF {
		return s, msg.New("sheet.file")
	}
	if bytes.ContainsFunc(raw, func(r rune) bool { return unicode.IsControl(r) && r != '\n' && r != '\r' && r != '\t' }) ||
		strings.Contains(string(raw), `\u0000`) {
		return s, msg.New("sheet.file")
	}
	n := 0
	for i := range s.Sections {
		n += len(s.Sections[i].Questions)
		for j := range s.Sections[i].Questions {
			q := &s.Sections[i].Questions[j]
			q.Program, q.Document = nil, nil // made here, and kept here: a file can't bring its own
			q.Kind = Kind(strings.TrimSpace(string(q.Kind)))
		}
	}
	if len(s.Sections) > maxSections || n > maxQuestions {
		return s, msg.New("sheet.file_large", "max", "200")
	}
	s.Version = 0
	return s, nil
}

// fields names what is different between two records, by their JSON names, sorted. Programs follow from formulas.
func fields(a, b any) []string {
	x, y := object(a), object(b)
	out := []string{}
	for _, k := range slices.Sorted(maps.Keys(x)) {
		if k != "program" && !bytes.Equal(x[k], y[k]) {
			out = append(out, k)
		}
	}
	for _, k := range slices.Sorted(maps.Keys(y)) {
		if _, ok := x[k]; !ok && k != "program" {
			out = append(out, k)
		}
	}
	slices.Sort(out)
	return out
}

func object(v any) map[string]json.RawMessage {
	raw, err := json.Marshal(v)
	if err != nil {
		return nil
	}
	var out map[string]json.RawMessage
	if json.Unmarshal(raw, &out) != nil {
		return nil
	}
	return out
}

func sameJSON(a, b any) bool {
	x, _ := json.Marshal(a)
	y, _ := json.Marshal(b)
	return bytes.Equal(x, y)
}
