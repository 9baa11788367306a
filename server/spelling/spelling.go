// Package spelling cuts what is written into the words that it is found by, and finds those that were typed with a slip.
package spelling

import (
	"slices"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// maxSought is how many words are looked for; the rest is left out.
const maxSought = 10

// Fold is text as it is searched: lower case, without accents.
func Fold(s string) string {
	return strings.Map(func(r rune) rune {
		if unicode.Is(unicode.Mn, r) {
			return -1
		}
		return unicode.ToLower(r)
	}, norm.NFD.String(s))
}

// Digits are the digits of a text.
func Digits(s string) string {
	return strings.Map(func(r rune) rune {
		if r < '0' || r > '9' {
			return -1
		}
		return r
	}, s)
}

// Words are the folded words of a text: letters and digits. What is joined by other signs, as AB-12/3 is, is one word, and its pieces are
// words too.
func Words(text string) (out []string) {
	for _, whole := range strings.Fields(Fold(text)) {
		pieces := strings.FieldsFunc(whole, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
		if len(pieces) > 1 {
			out = append(out, strings.Join(pieces, ""))
		}
		out = append(out, pieces...)
	}
	return out
}

// Sought are the words that somebody looks for: what is joined by other signs is one.
func Sought(text string) (out []string) {
	for _, whole := range strings.Fields(Fold(text)) {
		if w := strings.Join(strings.FieldsFunc(whole, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), ""); w != "" &&
			!slices.Contains(out, w) {
			out = append(out, w)
		}
	}
	return out[:min(len(out), maxSought)]
}
