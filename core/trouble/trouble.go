// Package trouble names what goes wrong, why, and what was done about it: the company's own tree of troubles, their causes and their
// remedies, as deep as it likes.
package trouble

import (
	"slices"
	"strconv"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Kind is what a node of the tree names.
type Kind string

const (
	Trouble Kind = "trouble" // what was noticed
	Cause   Kind = "cause"   // why
	Remedy  Kind = "remedy"  // what was done
)

// kinds are the kinds in the order they stand under each other.
var kinds = []Kind{Trouble, Cause, Remedy}

// Values lists the kinds, for generated types.
func (Kind) Values() []string { return []string{string(Trouble), string(Cause), string(Remedy)} }

// Node is a trouble, a cause or a remedy.
type Node struct {
	ID     string `json:"id"`
	Parent string `json:"parent,omitempty"` // "": it is under none
	Kind   Kind   `json:"kind"`
	Text   string `json:"text"`
	// Assets are the kinds of machine that it, and all under it, is of; none: those of its parent, or any.
	Assets []string `json:"assets,omitempty"`
	// Retired is no longer offered. What was said with it stays.
	Retired bool `json:"retired,omitempty"`
}

// Settings are a company's tree, each node after its parent, and where it is asked. What is asked at the finish is a requirement of how
// visits end (work.CheckTrouble).
type Settings struct {
	Tree   []Node `json:"tree,omitempty"`
	Intake bool   `json:"intake,omitempty"` // whether whoever opens a work order is asked for its trouble
}

// maxNodes is the most that the tree of a company has.
const maxNodes = 5000

// Check says what is wrong with the tree.
func (s Settings) Check() error {
	if len(s.Tree) > maxNodes {
		return msg.New("settings.list", "list", "tree", "max", strconv.Itoa(maxNodes))
	}
	seen := map[string]Node{}
	for _, n := range s.Tree {
		if err := records.CheckID(n.ID); err != nil {
			return err
		}
		if _, twice := seen[n.ID]; twice {
			return msg.New("settings.twice", "list", "tree", "id", n.ID)
		}
		if err := records.CheckText("tree", n.Text, true, 200); err != nil {
			return err
		}
		at := slices.Index(kinds, n.Kind)
		parent, under := seen[n.Parent]
		switch {
		case at < 0:
			return msg.New("trouble.kind", "text", records.Clip(n.Text))
		case n.Parent != "" && !under:
			return msg.New("trouble.parent", "text", records.Clip(n.Text))
		case under && slices.Index(kinds, parent.Kind) > at:
			return msg.New("trouble.order", "text", records.Clip(n.Text), "parent", records.Clip(parent.Text))
		}
		seen[n.ID] = n
	}
	return nil
}

// Node gives the node with an id.
func (s Settings) Node(id string) (Node, bool) {
	i := slices.IndexFunc(s.Tree, func(n Node) bool { return n.ID == id })
	if i < 0 {
		return Node{}, false
	}
	return s.Tree[i], true
}

// Path gives the texts from the top of the tree down to a node; none when there is no such node.
func (s Settings) Path(id string) []string {
	var out []string
	for id != "" {
		n, ok := s.Node(id)
		if !ok {
			break
		}
		out = append(out, n.Text)
		id = n.Parent
	}
	slices.Reverse(out)
	return out
}

// Is tells whether an id names a node of a kind; nothing said is fine.
func (s Settings) Is(id string, k Kind) bool {
	n, ok := s.Node(id)
	return id == "" || ok && n.Kind == k
}
