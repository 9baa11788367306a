package work

import (
	"cmp"
	"slices"
	"time"
)

// Known is what somebody knows of a visit of theirs: when it is.
type Known struct {
	Visit string    `json:"visit"`
	Start time.Time `json:"start"`
}

// News is what somebody does not know of their plan, each by time.
type News struct {
	New   []Known
	Moved []Known // with the time that they are at now
	Gone  []Known // with the time that they were at
}

// Empty tells that there is none.
func (n News) Empty() bool { return len(n.New)+len(n.Moved)+len(n.Gone) == 0 }

// NewsOf tells what is other in somebody's plan than they know. What was before from is no news: nobody can act on it any more.
func NewsOf(plan, known []Known, from time.Time) (n News) {
	had := map[string]time.Time{}
	for _, k := range known {
		had[k.Visit] = k.Start
	}
	for _, p := range plan {
		start, ok := had[p.Visit]
		delete(had, p.Visit)
		switch {
		case p.Start.Before(from) && start.Before(from):
		case !ok:
			n.New = append(n.New, p)
		case !start.Equal(p.Start):
			n.Moved = append(n.Moved, p)
		}
	}
	for visit, start := range had {
		if !start.Before(from) {
			n.Gone = append(n.Gone, Known{visit, start})
		}
	}
	for _, list := range [][]Known{n.New, n.Moved, n.Gone} {
		slices.SortFunc(list, func(a, b Known) int { return cmp.Or(a.Start.Compare(b.Start), cmp.Compare(a.Visit, b.Visit)) })
	}
	return n
}

// Elsewhere is how a technician is told of changes whom no push reaches.
type Elsewhere string

const (
	TellNot  Elsewhere = "" // they find them when they open the app
	TellText Elsewhere = "text"
	TellMail Elsewhere = "mail" // with the work order as PDF
)

// Values lists the ways, for generated types.
func (Elsewhere) Values() []string { return []string{string(TellText), string(TellMail)} }
