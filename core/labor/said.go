package labor

import "iter.example/iter/core/audit"

// Said is what somebody said of a stretch of work: which sort of work it was, and what was done in it.
type Said struct {
	audit.Line
	From string `json:"from"`           // the entry that began the stretch, or made it
	Sort string `json:"sort,omitempty"` // by the ids of the company's settings of time
	Text string `json:"text,omitempty"`
}

// tell puts on spans of work what was said of them last.
func tell(spans []Span, cards []Timecard) {
	for i := range spans {
		s := &spans[i]
		var last audit.Moment
		for _, c := range cards {
			for _, said := range c.Said {
				if at := (audit.Moment{At: said.At, Entry: said.Entry}); s.Kind == Work && said.From == s.From && last.Before(at) {
					last, s.Sort, s.Text = at, said.Sort, said.Text
				}
			}
		}
	}
}

// Usually gives spans with the sort of work that a person usually does where nothing else was said.
func Usually(spans []Span, sort string) []Span {
	for i := range spans {
		if spans[i].Kind == Work && spans[i].Sort == "" {
			spans[i].Sort = sort
		}
	}
	return spans
}
