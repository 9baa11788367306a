package trouble_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/trouble"
)

func TestTree(t *testing.T) {
	tree := []trouble.Node{
		{ID: "flow", Kind: trouble.Trouble, Text: "No flow"},
		{ID: "flow.none", Parent: "flow", Kind: trouble.Trouble, Text: "Pump stands"},
		{ID: "seized", Parent: "flow.none", Kind: trouble.Cause, Text: "Bearing seized"},
		{ID: "replaced", Parent: "seized", Kind: trouble.Remedy, Text: "Bearing replaced"},
		{ID: "cleaned", Kind: trouble.Remedy, Text: "Cleaned"},
	}
	s := trouble.Settings{Tree: tree}
	assert.NoError(t, s.Check())
	assert.Equal(t, []string{"No flow", "Pump stands", "Bearing seized"}, s.Path("seized"))
	assert.Empty(t, s.Path("gone"))
	assert.True(t, s.Is("seized", trouble.Cause) && s.Is("", trouble.Cause))
	assert.False(t, s.Is("seized", trouble.Remedy) || s.Is("gone", trouble.Cause))

	for want, n := range map[string]trouble.Node{
		"trouble.kind":   {ID: "x", Kind: "guess", Text: "X"},
		"trouble.parent": {ID: "x", Parent: "later", Kind: trouble.Cause, Text: "X"},
		"trouble.order":  {ID: "x", Parent: "replaced", Kind: trouble.Trouble, Text: "X"},
		"settings.twice": {ID: "flow", Kind: trouble.Trouble, Text: "X"},
		"text.missing":   {ID: "x", Kind: trouble.Trouble, Text: " "},
		"id.unusable":    {ID: "", Kind: trouble.Trouble, Text: "X"},
	} {
		err := trouble.Settings{Tree: append(tree[:len(tree):len(tree)], n)}.Check()
		if assert.Error(t, err, want) {
			assert.Equal(t, want, msg.From(err).Code)
		}
	}
}
