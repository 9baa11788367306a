package ledger

import (
	"iter.example/iter/core/upkeep"
)

func upkeepOfficeKinds() table {
	return table{
		"upkeep.moved": row[UpkeepMoved]{subject: "upkeep", office: planners, check: func(b UpkeepMoved) error { return b.change().Check() },
			apply: func(t *tx, e Entry, b UpkeepMoved) error {
				return change(t, e.Subject, func(p *upkeep.Plan) error {
					c := b.change()
					c.Line = e.line()
					return p.Keep(c)
				})
			},
			undo: movedBefore, final: "it is moved again"}.kind(),
	}
}

// UpkeepMoved is the body of upkeep.moved: an occurrence of a maintenance plan is done on another day than it falls due, or not at all.
type UpkeepMoved struct {
	Target string `json:"target"`       // the machine or site
	Key    string `json:"key"`          // of the occurrence
	Due    string `json:"due"`          // 2006-01-02
	To     string `json:"to,omitempty"` // "" to skip it, Due to have it as it was
	Reason string `json:"reason,omitempty"`
}

func (b UpkeepMoved) change() upkeep.Change {
	return upkeep.Change{Target: b.Target, Key: b.Key, Due: b.Due, To: b.To, Reason: b.Reason}
}

// movedBefore has an occurrence be done when it was to be before an entry.
func movedBefore(before Loader, e Entry, b UpkeepMoved) ([]Command, error) {
	var p upkeep.Plan
	if ok, err := before(e.Subject, &p); err != nil || !ok {
		return nil, err
	}
	back := UpkeepMoved{Target: b.Target, Key: b.Key, Due: b.Due, To: b.Due}
	if c := p.Changed(b.Target, b.Key); c != nil {
		back.To, back.Reason = c.To, c.Reason
	}
	return []Command{{Kind: e.Kind, Subject: e.Subject, Body: back}}, nil
}
