package ledger_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Amendments follow RFC 7396: a value replaces, null takes away, objects merge, arrays are replaced whole.
func TestAmendments(t *testing.T) {
	for name, c := range map[string]struct {
		patch string
		want  func(*records.Site)
		code  string
	}{
		"a value replaces": {`{"access":"Code 7"}`, func(s *records.Site) { s.Access = "Code 7" }, ""},
		"null takes away":  {`{"lat":null}`, func(s *records.Site) { s.Lat = 0 }, ""},
		"objects merge": {`{"contact":{"phone":"1"}}`, func(s *records.Site) { s.Contact = records.Contact{Phone: "1"} },
			""},
		"what is not known is left out":   {`{"colour":"red","access":"x"}`, func(s *records.Site) { s.Access = "x" }, ""},
		"an empty patch says nothing":     {`{}`, nil, "entry.body"},
		"no object":                       {`[1]`, nil, "entry.body"},
		"a value of another type":         {`{"name":7}`, nil, "entry.body"},
		"a record that would not be good": {`{"lat":900}`, nil, "site.position"},
		"a name taken away":               {`{"name":null}`, nil, "text.missing"},
	} {
		t.Run(name, func(t *testing.T) {
			m, docs := company(t)
			want := read[records.Site](t, docs, "site", "S1")
			e := m.Entry("office", "record.amended", "site", "S1", json.RawMessage(c.patch))
			changed, flags, err := ledger.Apply(docs, e)
			if c.code != "" {
				assert.Equal(t, c.code, msg.From(err).Code)
				return
			}
			require.NoError(t, err)
			assert.Empty(t, flags)
			c.want(&want)
			assert.Equal(t, want, read[records.Site](t, changed, "site", "S1"))
		})
	}
}

// Only a field that is patched, and that somebody else changed since the base, is a clash.
func TestClashes(t *testing.T) {
	for base, want := range map[string][]string{
		``:                                   nil,
		`{"name":"Orrisk Pump House 3"}`:     nil,
		`{"access":null}`:                    nil,
		`{"access":""}`:                      nil,
		`{"access":"Code 1"}`:                {"access"},
		`{"hazard":"deep water"}`:            nil, // not patched
		`{"access":"Code 1","name":"Other"}`: {"access", "name"},
	} {
		m, docs := company(t)
		e := m.Entry("office", "record.amended", "site", "S1", map[string]any{"access": "Code 2", "name": "Orrisk"})
		e.Base = json.RawMessage(base)
		r := ledgertest.Fold(docs, []ledger.Entry{e})[0]
		require.Empty(t, r.Error, base)
		var got []string
		for _, f := range r.Flags {
			got = append(got, f.Args["field"])
		}
		assert.Equal(t, want, got, base)
	}
}

// Two people who edit the same field: the later stands, the earlier is in the flag, and what each did not touch stays.
func TestTwoPeopleEditTheSameField(t *testing.T) {
	m, docs := company(t)
	amend := func(actor, patch, base string) ledger.Entry {
		e := m.Entry(actor, "record.amended", "site", "S1", json.RawMessage(patch))
		e.Base = json.RawMessage(base)
		return e
	}
	results := ledgertest.Fold(docs, []ledger.Entry{
		amend("office", `{"contact":{"name":"Ona Pryde","phone":"1"}}`, `{"contact":{"name":""}}`),
		amend("ann", `{"contact":{"phone":"2"},"access":"Key at the harbour office"}`, `{"contact":{"phone":""},"access":null}`),
		amend("ben", `{"contact":{"phone":"2"}}`, `{"contact":{"phone":"1"}}`),
	})
	site := read[records.Site](t, docs, "site", "S1")
	assert.Equal(t, records.Contact{Name: "Ona Pryde", Phone: "2"}, site.Contact)
	assert.Equal(t, "Key at the harbour office", site.Access)
	require.Len(t, results[1].Flags, 1)
	assert.Equal(t, map[string]string{"field": "contact.phone", "earlier": `"1"`, "later": `"2"`}, results[1].Flags[0].Args)
	assert.Empty(t, results[2].Flags, "who writes the same agrees")
}

func TestCorrections(t *testing.T) {
	for _, c := range []struct {
		typ, patch string
		want       bool
	}{
		{"site", `{"access":"x","contact":{"phone":"1"}}`, true},
		{"asset", `{"serial":"7"}`, true},
		{"site", `{"access":"x","name":"y"}`, false},
		{"person", `{"name":"x"}`, false},
	} {
		m, _ := company(t)
		f, err := ledger.Open(m.Entry("ann", "record.amended", c.typ, "X", json.RawMessage(c.patch)))
		require.NoError(t, err)
		assert.Equal(t, c.want, f.Correction(), c.patch)
	}
}

// Whatever a patch and its base are, a record is amended into one that is still good, or left as it was.
func FuzzMergePatch(f *testing.F) {
	f.Add([]byte(`{"access":"Gate 4"}`), []byte(`{"access":""}`))
	f.Add([]byte(`{"contact":{"phone":null},"documents":{"aa":{"name":"x","pack":true}}}`), []byte(`{"contact":[]}`))
	f.Add([]byte(`{"name":{"a":{"b":{}}},"lat":1e999}`), []byte(`[]`))
	f.Fuzz(func(t *testing.T, patch, base []byte) {
		m := ledgertest.NewMaker("office", 1)
		docs := ledger.Docs{}
		ledgertest.Fold(docs, m.Company())
		e := m.Entry("ann", "record.amended", "site", "S1", 0)
		e.Body, e.Base = patch, base
		changed, _, err := ledger.Apply(docs, e)
		if err != nil {
			return
		}
		var site records.Site
		if json.Unmarshal(changed[e.Subject], &site) != nil || site.Check() != nil {
			t.Fatalf("%s and %s make %s", patch, base, changed[e.Subject])
		}
	})
}

// A record that an earlier program took, and that would not be taken now, is mended by an amendment.
func TestAnAmendmentMendsARecord(t *testing.T) {
	m, docs := company(t)
	docs[ledger.Ref{Type: "customer", ID: "C7"}] = json.RawMessage(`{"name":"","contact":{"name":""}}`)
	require.Empty(t, take(t, docs, m.Entry("office", "record.amended", "customer", "C7", map[string]any{"name": "Quill Dairy"})).Error)
}
