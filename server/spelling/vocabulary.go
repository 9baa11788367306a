package store

import (
	"math/bits"
	"slices"
	"sync"
	"unicode/utf8"
)

// vocabulary are the words that records are found by, to look for those that are spelled nearly as one that was typed. It takes up what is
// written, and the rest from the database when it is first asked for. A word that is in no record any more does no harm.
type vocabulary struct {
	mu    sync.Mutex
	whole bool
	known map[string]bool
	of    map[int][]spelling // by their length in letters
}

// spelling is a word, with the letters that are in it as bits.
type spelling struct {
	word    string
	letters uint64
}

// Words of so many letters are looked for with one slip, and from so many on with two. Of numbers another is not meant.
const (
	leastSlip  = 4
	longSlip   = 8
	mostNearby = 12
)

// add takes up words.
func (v *vocabulary) add(words []string) {
	v.mu.Lock()
	defer v.mu.Unlock()
	v.take(words)
}

func (v *vocabulary) take(words []string) {
	if v.known == nil {
		v.known, v.of = map[string]bool{}, map[int][]spelling{}
	}
	for _, w := range words {
		if !v.known[w] && slipsOf(w, utf8.RuneCountInString(w)) > 0 {
			v.known[w] = true
			n := utf8.RuneCountInString(w)
			v.of[n] = append(v.of[n], spelling{w, lettersOf(w)})
		}
	}
}

// near gives the words that are at most some slips away from one: those with the fewest first.
func (v *vocabulary) near(word string, slips int) []string {
	v.mu.Lock()
	defer v.mu.Unlock()
	n, letters := utf8.RuneCountInString(word), lettersOf(word)
	typed := []rune(word)
	found := make([][]string, slips+1)
	for length := n - slips; length <= n+slips; length++ {
		for _, s := range v.of[length] {
			// A slip takes at most one letter away and brings at most one.
			if bits.OnesCount64(letters&^s.letters) > slips || bits.OnesCount64(s.letters&^letters) > slips {
				continue
			}
			if d := slipsBetween(typed, []rune(s.word), slips); d <= slips {
				found[d] = append(found[d], s.word)
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

// near gives for each word the spellings that it may stand for, itself first; nil when there is none but itself.
func (t *Tx) near(list []string) ([][]string, error) {
	if err := t.readVocabulary(); err != nil {
		return nil, err
	}
	var out [][]string
	found := false
	for _, w := range list {
		n := utf8.RuneCountInString(w)
		if n < leastPart {
			continue // it is too short to be looked for inside others
		}
		spellings := []string{w}
		if slips := slipsOf(w, n); slips > 0 {
			for _, x := range t.vocabulary.near(w, slips) {
				if x != w && utf8.RuneCountInString(x) >= leastPart {
					spellings, found = append(spellings, x), true
				}
			}
		}
		out = append(out, spellings)
	}
	if !found {
		return nil, nil
	}
	return out, nil
}

func slipsOf(word string, n int) int {
	switch {
	case n < leastSlip || digits(word) == word:
		return 0
	case n < longSlip:
		return 1
	}
	return 2
}

// readVocabulary reads the words that are in the index, once.
func (t *Tx) readVocabulary() error {
	v := t.vocabulary
	v.mu.Lock()
	defer v.mu.Unlock()
	if v.whole {
		return nil
	}
	all, err := collect(t, scanString, "SELECT term FROM found_vocabulary WHERE col = 'text'")
	if err != nil {
		return err
	}
	v.take(all)
	v.whole = true
	return nil
}
