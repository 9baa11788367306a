package spelling

import (
	"math/bits"
	"slices"
	"sync"
	"unicode/utf8"
)

// Vocabulary are the words that something is found by, to look for those that are spelled nearly as one that was typed. It takes up what is
// written, and the rest from where they are kept when it is first asked for. A word that finds nothing any more does no harm.
type Vocabulary struct {
	mu    sync.Mutex
	whole bool
	known map[string]bool
	of    map[int][]word // by their length in letters
}

// word is a word, with the letters that are in it as bits.
type word struct {
	text    string
	letters uint64
}

// Words of so many letters are looked for with one slip, and from so many on with two. Of numbers another is not meant.
const (
	leastSlip  = 4
	longSlip   = 8
	mostNearby = 12
)

// Add takes up words.
func (v *Vocabulary) Add(words []string) {
	v.mu.Lock()
	defer v.mu.Unlock()
	v.take(words)
}

// Read takes up the words that all gives, the first time that it is asked to.
func (v *Vocabulary) Read(all func() ([]string, error)) error {
	v.mu.Lock()
	defer v.mu.Unlock()
	if v.whole {
		return nil
	}
	words, err := all()
	if err != nil {
		return err
	}
	v.take(words)
	v.whole = true
	return nil
}

func (v *Vocabulary) take(words []string) {
	if v.known == nil {
		v.known, v.of = map[string]bool{}, map[int][]word{}
	}
	for _, w := range words {
		if !v.known[w] && slipsOf(w, utf8.RuneCountInString(w)) > 0 {
			v.known[w] = true
			n := utf8.RuneCountInString(w)
			v.of[n] = append(v.of[n], word{w, lettersOf(w)})
		}
	}
}

// Near gives the other words that one may stand for: those that are the fewest slips of typing away first.
func (v *Vocabulary) Near(typed string) []string {
	n, letters, runes := utf8.RuneCountInString(typed), lettersOf(typed), []rune(typed)
	slips := slipsOf(typed, n)
	if slips == 0 {
		return nil
	}
	v.mu.Lock()
	defer v.mu.Unlock()
	found := make([][]string, slips+1)
	for length := n - slips; length <= n+slips; length++ {
		for _, s := range v.of[length] {
			// A slip takes at most one letter away and brings at most one.
			if bits.OnesCount64(letters&^s.letters) > slips || bits.OnesCount64(s.letters&^letters) > slips {
				continue
			}
			if d := slipsBetween(runes, []rune(s.text), slips); d > 0 && d <= slips {
				found[d] = append(found[d], s.text)
			}
		}
	}
	out := slices.Concat(found...)
	return out[:min(len(out), mostNearby)]
}

func lettersOf(word string) (out uint64) {
	for _, r := range word {
		out |= 1 << (uint32(r) % 64)
	}
	return out
}

// slipsBetween counts the slips of typing between two words: a letter left out, added, taken for another, or two that changed places
// (optimal string alignment). Above most it may give any larger number.
func slipsBetween(a, b []rune, most int) int {
	before, last, row := make([]int, len(b)+1), make([]int, len(b)+1), make([]int, len(b)+1)
	for j := range last {
		last[j] = j
	}
	for i := range a {
		row[0] = i + 1
		least := row[0]
		for j := range b {
			cost := 1
			if a[i] == b[j] {
				cost = 0
			}
			row[j+1] = min(last[j+1]+1, row[j]+1, last[j]+cost)
			if i > 0 && j > 0 && a[i] == b[j-1] && a[i-1] == b[j] {
				row[j+1] = min(row[j+1], before[j-1]+1)
			}
			least = min(least, row[j+1])
		}
		if least > most+1 {
			return least
		}
		before, last, row = last, row, before
	}
	return last[len(b)]
}

func slipsOf(word string, n int) int {
	switch {
	case n < leastSlip || Digits(word) == word:
		return 0
	case n < longSlip:
		return 1
	}
	return 2
}
