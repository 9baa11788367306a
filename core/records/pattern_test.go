package records_test

import (
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"iter.example/iter/core/records"
)

// What may be an id, a hash or a field of a message is what these patterns match.
var (
	anID    = regexp.MustCompile(`^[A-Za-z0-9][A-Za-z0-9._@:+-]{0,79}$`)
	aHash   = regexp.MustCompile(`^[0-9a-f]{64}$`)
	aMember = regexp.MustCompile(`\{([a-z]+)\}`)
)

func TestIDsAndHashesAreWhatPatternsMatch(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		id := rapid.OneOf(rapid.StringMatching(`[A-Za-z0-9._@:+\-]{0,82}`), rapid.StringOfN(rapid.RuneFrom([]rune("aZ0.@/ é\x00\n")), 0, 6, -1)).
			Draw(t, "id")
		assert.Equal(t, anID.MatchString(id), records.CheckID(id) == nil, "%q", id)
		hash := rapid.OneOf(rapid.StringMatching(`[0-9a-f]{63,65}`), rapid.StringMatching(`[0-9a-f]{30}[0-9a-gA ]{4}[0-9a-f]{30}`)).
			Draw(t, "hash")
		assert.Equal(t, aHash.MatchString(hash), records.CheckHash(hash) == nil, "%q", hash)
	})
}

func TestMessagesAreFilledWhereAPatternMatches(t *testing.T) {
	values := map[string]string{"site": "Quay {time}", "time": "08:00"}
	rapid.Check(t, func(t *rapid.T) {
		piece := rapid.SampledFrom([]string{"{", "}", "{site}", "{time}", "{}", "{Site}", "{{site}}", "{tidings}", "at ", "é", "site}"})
		text := strings.Join(rapid.SliceOfN(piece, 0, 9).Draw(t, "pieces"), "")
		m := records.Template{ID: "t", Name: "T", Text: text + "."}
		want := aMember.ReplaceAllStringFunc(m.Text, func(f string) string { return values[f[1:len(f)-1]] })
		assert.Equal(t, want, m.Fill(values), "%q", m.Text)
		unknown := slices.ContainsFunc(aMember.FindAllStringSubmatch(m.Text, -1), func(f []string) bool {
			return !slices.Contains(records.MessageFields, f[1])
		})
		assert.Equal(t, unknown, m.Check() != nil, "%q", m.Text)
	})
}
