// Package signoff binds a signature to exactly what the signer was shown: a summary in canonical JSON (RFC 8785), and its
// SHA-256 digest.
package signoff

import (
	"encoding/hex"
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"time"

	"github.com/cyberphone/json-canonicalization/go/src/webpki.org/jsoncanonicalizer"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/digest"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
)

// Summary is what a signer is shown, in the words it is shown in. Numbers are strings or whole seconds, so that no
// reader can round them.
type Summary struct {
	Order    string      `json:"order"` // work order number
	Customer string      `json:"customer"`
	Site     string      `json:"site"`
	Asset    string      `json:"asset,omitempty"`
	Problem  string      `json:"problem"`
	Person   string      `json:"person"`   // the technician's name
	Until    time.Time   `json:"until"`    // hours count up to here
	Hours    labor.Hours `json:"hours"`    // seconds
	Notes    []string    `json:"notes"`    // in order of time
	Parts    []Line      `json:"parts"`    // in order of time
	Readings []Line      `json:"readings"` // in order of time
	Answers  []Line      `json:"answers"`  // in the order of the sheets

	// What follows is there since version 2, and left out of the digest of what was signed before.
	V       int    `json:"v,omitempty"`
	Day     string `json:"day,omitempty"` // of work that goes over several days, when it is signed day by day: 2006-01-02
	Tasks   []Line `json:"tasks,omitempty"`
	Advice  []Line `json:"advice,omitempty"` // recommended, line by line, with what was said to it
	Outcome string `json:"outcome,omitempty"`
}

// Version is that of the summaries made today.
const Version = 2

// Line is one named value with its unit.
type Line struct {
	Name  string `json:"name"`
	Value string `json:"value"`
	Unit  string `json:"unit,omitempty"`
	// the level of a reading outside its limits; "removed" of a part that was taken out; how a task stands
	Mark  string `json:"mark,omitempty"`
	Price string `json:"price,omitempty"` // of one, with its currency, where those who sign see prices
}

// Strokes are the lines of a signature: points x, y in thousandths of the pad's width, from its top left.
type Strokes [][][2]int

// Signature is a sign-off as kept with its visit.
type Signature struct {
	audit.Line
	Name string `json:"name"`
	Role string `json:"role"`
	// Strokes, Digest and Summary are what the entry carried.
	Strokes Strokes `json:"strokes"`
	Digest  string  `json:"digest"`
	Summary Summary `json:"summary"`
}

// Canonical gives v as canonical JSON after RFC 8785: sorted names, no white space, one way to write each value.
func Canonical(v any) ([]byte, error) {
	raw, err := json.Marshal(v)
	if err != nil {
		return nil, fmt.Errorf("canonical: %w", err)
	}
	out, err := jsoncanonicalizer.Transform(raw)
	if err != nil {
		return nil, fmt.Errorf("canonical: %w", err)
	}
	return out, nil
}

// Digest is the SHA-256 of v's canonical JSON, in lower-case hexadecimal.
func Digest(v any) (string, error) {
	b, err := Canonical(v)
	if err != nil {
		return "", err
	}
	sum := digest.Sum(b)
	return hex.EncodeToString(sum[:]), nil
}

const (
	maxPoints = 20_000
	// minSpan is how far a signature must reach, in thousandths of the pad's width: more than a slip of the finger.
	minSpan = 30
)

// Check says what is wrong with a signature: nothing drawn, no name, or a digest that is not the summary's.
func (s Signature) Check() error {
	if strings.TrimSpace(s.Name) == "" {
		return msg.New("signature.name")
	}
	if len([]rune(s.Name)) > 200 || len([]rune(s.Role)) > 200 {
		return msg.New("text.long", "max", "200")
	}
	if err := s.Strokes.Check(); err != nil {
		return err
	}
	d, err := Digest(s.Summary)
	if err != nil || d != s.Digest {
		return msg.New("signature.digest")
	}
	return nil
}

// minInk is how long the lines of a signature are together, at least: dots are none.
const minInk = 100

// CheckDrawn says whether what somebody is drawing can be a signature. Of what was recorded before, Check asks less.
func (s Strokes) CheckDrawn() error {
	ink := 0.0
	for _, stroke := range s {
		for i := 1; i < len(stroke); i++ {
			ink += math.Hypot(float64(stroke[i][0]-stroke[i-1][0]), float64(stroke[i][1]-stroke[i-1][1]))
		}
	}
	if ink < minInk {
		return msg.New("signature.empty")
	}
	return s.Check()
}

// Check says whether something was drawn that can have been a signature.
func (s Strokes) Check() error {
	points := 0
	minX, maxX, minY, maxY := 1<<30, -1<<30, 1<<30, -1<<30
	for _, stroke := range s {
		points += len(stroke)
		for _, p := range stroke {
			minX, maxX, minY, maxY = min(minX, p[0]), max(maxX, p[0]), min(minY, p[1]), max(maxY, p[1])
		}
	}
	switch {
	case points < 2 || (maxX-minX < minSpan && maxY-minY < minSpan):
		return msg.New("signature.empty")
	case points > maxPoints || minX < -10_000 || minY < -10_000 || maxX > 10_000 || maxY > 10_000:
		return msg.New("signature.large")
	}
	return nil
}
