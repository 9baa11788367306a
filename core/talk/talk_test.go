package talk_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/talk"
)

func said(entry string, minute int, person string) talk.Said {
	return talk.Said{Entry: entry, At: time.Date(2026, 3, 10, 9, minute, 0, 0, time.UTC), Person: person, Text: "…",
		Office: person == "ada"}
}

func TestUnread(t *testing.T) {
	var c talk.Talk
	assert.Zero(t, c.Unread("ona"))
	c.Add(said("1", 1, "ona"))
	c.Add(said("2", 2, "ada"))
	c.Add(said("3", 3, "ada"))
	assert.Equal(t, 2, c.Unread("ona"))
	assert.Zero(t, c.Unread(talk.Office), "who answers has read")
	assert.Equal(t, 3, c.Unread("tam"))
	c.See("ona", "2")
	assert.Equal(t, 1, c.Unread("ona"))
	c.See("ona", "1")
	assert.Equal(t, 1, c.Unread("ona"), "what was read stays read")
	c.See("ona", "no such entry")
	assert.Equal(t, 1, c.Unread("ona"))
	c.Add(said("0", 0, "tam"))
	assert.Equal(t, 1, c.Unread("ona"), "what came late, from before what was read, is not new")
}

// Whatever is said and read in whatever order, whoever has read the last has nothing unread, and the order of what was said is that of
// time.
func TestOrderOfArrivalDoesNotMatter(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []talk.Said
		for i := range rapid.IntRange(1, 8).Draw(t, "n") {
			list = append(list, said(string(rune('a'+i)), rapid.IntRange(0, 5).Draw(t, "minute"),
				rapid.SampledFrom([]string{"ona", "ada"}).Draw(t, "person")))
		}
		var one, other talk.Talk
		for _, s := range list {
			one.Add(s)
		}
		for _, i := range rapid.Permutation([]int{0, 1, 2, 3, 4, 5, 6, 7}).Draw(t, "order") {
			if i < len(list) {
				other.Add(list[i])
			}
		}
		require.Equal(t, one, other)
		one.See("tam", one.Said[len(one.Said)-1].Entry)
		require.Zero(t, one.Unread("tam"))
	})
}
