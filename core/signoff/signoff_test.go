package signoff_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/signoff"
)

// The example of RFC 8785, section 3.2.2, and the order of names of section 3.2.3.
func TestCanonicalFollowsTheRFC(t *testing.T) {
	for in, want := range map[string]string{
		`{"numbers":[333333333.33333329,1E30,4.50,2e-3,0.000000000000000000000000001],` +
			`"string":"\u20ac$\u000F\u000aA'\u0042\u0022\u005c\\\"\/","literals":[null,true,false]}`: `{"literals":[null,true,` +
			`false],"numbers":[333333333.3333333,1e+30,4.5,0.002,1e-27],"string":"€$\u000f\nA'B\"\\\\\"/"}`,
		`{"\u20ac":1,"\r":2,"\ufb33":3,"1":4,"\u0080":5,"\u00f6":6}`: "{\"\\r\":2,\"1\":4,\"\u0080\":5,\"ö\":6,\"€\":1,\"\ufb33\":3}",
	} {
		got, err := signoff.Canonical(json.RawMessage(in))
		require.NoError(t, err)
		assert.Equal(t, want, string(got))
	}
}

func signed() signoff.Signature {
	s := signoff.Signature{Name: "Ona Pryde", Role: "Duty engineer", Strokes: signoff.Strokes{{{10, 10}, {200, 80}}}}
	s.Summary = signoff.Summary{Order: "4127", Until: time.Date(2026, 3, 10, 9, 0, 0, 0, time.UTC), Notes: []string{"Seal changed"}}
	s.Digest, _ = signoff.Digest(s.Summary)
	return s
}

func TestCheck(t *testing.T) {
	require.NoError(t, signed().Check())
	for code, spoil := range map[string]func(*signoff.Signature){
		"signature.empty":  func(s *signoff.Signature) { s.Strokes = nil },
		"signature.name":   func(s *signoff.Signature) { s.Name = " " },
		"signature.digest": func(s *signoff.Signature) { s.Summary.Notes[0] = "Seal not changed" },
		"signature.large":  func(s *signoff.Signature) { s.Strokes = signoff.Strokes{make([][2]int, 20_001), {{0, 0}, {90, 90}}} },
	} {
		s := signed()
		spoil(&s)
		assert.Equal(t, code, msg.From(s.Check()).Code)
	}
	for name, strokes := range map[string]signoff.Strokes{"one dot": {{{5, 5}}}, "a blot": {{{5, 5}, {9, 12}}, {{7, 7}}},
		"empty strokes": {{}, {}}} {
		assert.Equal(t, "signature.empty", msg.From(strokes.Check()).Code, name)
	}
}

// The digest changes if and only if something in the summary did.
func TestDigestFollowsTheSummary(t *testing.T) {
	text := rapid.StringOf(rapid.Rune())
	gen := rapid.Custom(func(t *rapid.T) signoff.Summary {
		return signoff.Summary{
			Order: rapid.SampledFrom([]string{"1", "2"}).Draw(t, "order"), Problem: text.Draw(t, "problem"),
			Notes:   rapid.SliceOfN(rapid.SampledFrom([]string{"a", "b", "é"}), 0, 2).Draw(t, "notes"),
			Outcome: rapid.SampledFrom([]string{"", "complete"}).Draw(t, "outcome"),
			Tasks: rapid.SliceOfN(rapid.SampledFrom([]signoff.Line{{Name: "Seal", Mark: "done"}, {Name: "Seal", Mark: "held"},
				{Name: "Bearing"}}), 0, 3).Draw(t, "tasks"),
			Hours: labor.Hours{Work: rapid.Int64Range(0, 2).Draw(t, "work")},
			Parts: []signoff.Line{{Name: rapid.SampledFrom([]string{"seal", "ring"}).Draw(t, "part"), Value: "1"}},
		}
	})
	rapid.Check(t, func(t *rapid.T) {
		a, b := gen.Draw(t, "a"), gen.Draw(t, "b")
		ja, _ := json.Marshal(a)
		jb, _ := json.Marshal(b)
		da, err := signoff.Digest(a)
		require.NoError(t, err)
		db, err := signoff.Digest(b)
		require.NoError(t, err)
		require.Equal(t, string(ja) == string(jb), da == db)
		require.Equal(t, da == db, len(signoff.Diff(a, b)) == 0, "what changed the digest can be shown")
		var back signoff.Summary
		require.NoError(t, json.Unmarshal(ja, &back))
		dback, err := signoff.Digest(back)
		require.NoError(t, err)
		require.Equal(t, da, dback, "a trip over the wire changes nothing")
	})
}

func TestDiff(t *testing.T) {
	was := signoff.Summary{Order: "4127", Hours: labor.Hours{Work: 3600}, Notes: []string{"Seal worn"},
		Parts: []signoff.Line{{Name: "Seal", Value: "1"}, {Name: "Ring", Value: "2"}}}
	is := was
	is.Hours.Work = 5400
	is.Parts = []signoff.Line{{Name: "Ring", Value: "3"}, {Name: "Seal", Value: "1"}, {Name: "Grease", Value: "1"}}
	is.Notes = nil
	line := func(name, value string) *signoff.Line { return &signoff.Line{Name: name, Value: value} }
	assert.Equal(t, []signoff.Change{
		{Part: signoff.PartHours, Was: line("work", "3600"), Is: line("work", "5400")},
		{Part: signoff.PartNotes, Was: line("Seal worn", "")},
		{Part: signoff.PartParts, Was: line("Ring", "2"), Is: line("Ring", "3")},
		{Part: signoff.PartParts, Is: line("Grease", "1")},
	}, signoff.Diff(was, is))
	assert.Empty(t, signoff.Diff(was, was))
}
