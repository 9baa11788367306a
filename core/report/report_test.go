package report_test

import (
	"encoding/hex"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/report"
	"iter.example/iter/core/signoff"
)

// A code is read however it is typed, and codes of different digests differ.
func TestCodeIsReadAsItIsTyped(t *testing.T) {
	digest := rapid.Map(rapid.SliceOfN(rapid.Byte(), 32, 32), hex.EncodeToString)
	rapid.Check(t, func(t *rapid.T) {
		a, b := digest.Draw(t, "a"), digest.Draw(t, "b")
		code := report.Code(a)
		typed := strings.NewReplacer("0", "o", "1", "L").Replace(strings.ToLower(code))
		require.Equal(t, code, report.ReadCode(typed))
		require.Equal(t, code, report.ReadCode(strings.ReplaceAll(code, "-", " ")))
		require.Equal(t, a[:24] == b[:24], code[:len(code)-1] == report.Code(b)[:len(code)-1])
	})
	for _, bad := range []string{"", "ABCDE", "ABCDE-ABCDE-ABCDE-ABCDU", strings.Repeat("Z", 40), "ABCDE-ABCDE-ABCDE-ABCD€"} {
		assert.Empty(t, report.ReadCode(bad), bad)
	}
	assert.Empty(t, report.Code("no digest"))
}

// What a report says has one digest, and every line counts.
func TestDigestFollowsWhatItSays(t *testing.T) {
	one := report.Report{Layout: report.Full, Order: "4127", At: time.Date(2026, 3, 10, 9, 0, 0, 0, time.UTC),
		Parts: []signoff.Line{{Name: "Seal", Value: "1"}}}
	digest, err := one.Digest()
	require.NoError(t, err)
	other := one
	other.Parts = []signoff.Line{{Name: "Seal", Value: "2"}}
	changed, err := other.Digest()
	require.NoError(t, err)
	assert.NotEqual(t, digest, changed)
}

func TestCheck(t *testing.T) {
	hash := strings.Repeat("a", 64)
	good := report.Report{Layout: report.Short, Photos: []report.Photo{{Hash: hash, Type: "image/jpeg", Size: 1}}}
	require.NoError(t, good.Check())
	for code, r := range map[string]report.Report{
		"report.layout": {Layout: "poster"},
		"report.photos": {Layout: report.Full,
			Photos: []report.Photo{{Hash: hash, Type: "image/jpeg", Size: report.MaxPhotoBytes + 1}}},
		"file.type":            {Layout: report.Full, Photos: []report.Photo{{Hash: hash, Type: "image/webp"}}},
		"file.hash_unreadable": {Layout: report.Full, Photos: []report.Photo{{Hash: "../etc", Type: "image/jpeg"}}},
	} {
		assert.Equal(t, code, msg.From(r.Check()).Code)
	}
}
