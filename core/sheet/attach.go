package sheet

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"iter.example/iter/core/records"
)

// Settings are a company's rules of which check sheets work gets.
type Settings struct {
	Always []string `json:"always,omitempty"` // on all new work, as id@version, where there are no rules
	Rules  []Rule   `json:"rules,omitempty"`
}

// Rule attaches a check sheet to work orders. What is left empty does not matter.
type Rule struct {
	Sheet  string   `json:"sheet"`            // id; the newest version is taken
	Works  []string `json:"works,omitempty"`  // kinds of work, by the ids of the settings of orders
	Assets []string `json:"assets,omitempty"` // kinds of machine
	Sites  []string `json:"sites,omitempty"`
}

// Check says what is wrong with rules of sheets: nothing can be.
func (s Settings) Check() error { return nil }

// CheckRules says which rule names no sheet.
func (s Settings) CheckRules() error {
	for _, r := range s.Rules {
		if err := records.CheckID(r.Sheet); err != nil {
			return err
		}
	}
	return nil
}

// Work is what rules look at of a work order.
type Work struct{ Kind, Asset, Site string }

// For lists the sheets that rules attach to work, as id@version, each once, in the order of the rules. refs are the versions there are.
func For(rules []Rule, w Work, refs []string) []string {
	out := []string{}
	for _, r := range rules {
		if !wants(r.Works, w.Kind) || !wants(r.Assets, w.Asset) || !wants(r.Sites, w.Site) {
			continue
		}
		if ref := Newest(r.Sheet, refs); ref != "" && !slices.Contains(out, ref) {
			out = append(out, ref)
		}
	}
	return out
}

func wants(list []string, have string) bool {
	return len(list) == 0 || slices.Contains(list, have)
}

// Newest gives the newest version of a sheet among refs, or "".
func Newest(id string, refs []string) string {
	best, version := "", 0
	for _, ref := range refs {
		if of, v := Split(ref); of == id && v > version {
			best, version = ref, v
		}
	}
	return best
}

// Split takes a reference apart.
func Split(ref string) (id string, version int) {
	id, v, _ := strings.Cut(ref, "@")
	version, _ = strconv.Atoi(v)
	return id, version
}

// Change is a difference between two versions of a sheet.
type Change struct {
	What     string   `json:"what"` // added, removed, changed, moved
	Section  string   `json:"section"`
	Question string   `json:"question,omitempty"`
	Text     string   `json:"text"`
	Fields   []string `json:"fields,omitempty"` // of one that changed
}

// Changes lists what is different in b from a: sections and questions, in the order of b, and then what is gone.
func Changes(a, b Sheet) []Change {
	type place struct {
		q       Question
		section string
	}
	index := func(s Sheet) (map[string]place, []string, map[string]Section) {
		at, order, secs := map[string]place{}, []string{}, map[string]Section{}
		for _, sec := range s.Sections {
			secs[cmp.Or(sec.ID, sec.Title)] = sec
			for _, q := range sec.Questions {
				at[q.ID] = place{q, sec.Title}
				order = append(order, q.ID)
			}
		}
		return at, order, secs
	}
	was, before, secWas := index(a)
	is, after, secIs := index(b)
	out := []Change{}
	if a.Title != b.Title {
		out = append(out, Change{What: "changed", Text: b.Title, Fields: []string{"title"}})
	}
	if !sameJSON(a.Pass, b.Pass) {
		out = append(out, Change{What: "changed", Text: b.Title, Fields: []string{"pass"}})
	}
	for _, sec := range b.Sections {
		old, ok := secWas[cmp.Or(sec.ID, sec.Title)]
		if !ok {
			out = append(out, Change{What: "added", Section: sec.Title, Text: sec.Title})
			continue
		}
		old.Questions, sec.Questions = nil, nil
		if f := fields(old, sec); len(f) > 0 {
			out = append(out, Change{What: "changed", Section: sec.Title, Text: sec.Title, Fields: f})
		}
	}
	// Of the questions in both, those that another now precedes have moved.
	both := slices.DeleteFunc(slices.Clone(before), func(id string) bool { _, ok := is[id]; return !ok })
	stay := steady(both, after)
	for _, id := range after {
		now := is[id]
		old, ok := was[id]
		c := Change{Section: now.section, Question: id, Text: now.q.Text}
		f := fields(old.q, now.q)
		switch {
		case !ok:
			c.What = "added"
		case len(f) > 0:
			c.What, c.Fields = "changed", f
		case old.section != now.section || !stay[id]:
			c.What = "moved"
		default:
			continue
		}
		out = append(out, c)
	}
	for _, sec := range a.Sections {
		if _, ok := secIs[cmp.Or(sec.ID, sec.Title)]; !ok {
			out = append(out, Change{What: "removed", Section: sec.Title, Text: sec.Title})
		}
	}
	for _, id := range before {
		if _, ok := is[id]; !ok {
			out = append(out, Change{What: "removed", Section: was[id].section, Question: id, Text: was[id].q.Text})
		}
	}
	return out
}

// steady picks the longest run of ids that keep their order: what is not among them moved.
func steady(before, after []string) map[string]bool {
	at := map[string]int{}
	for i, id := range after {
		at[id] = i
	}
	best, from := make([]int, len(before)), make([]int, len(before))
	end := -1
	for i := range before {
		best[i], from[i] = 1, -1
		for j := range i {
			if at[before[j]] < at[before[i]] && best[j]+1 > best[i] {
				best[i], from[i] = best[j]+1, j
			}
		}
		if end < 0 || best[i] > best[end] {
			end = i
		}
	}
	out := map[string]bool{}
	for i := end; i >= 0; i = from[i] {
		out[before[i]] = true
	}
	return out
}
