package store

import (
	"cmp"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
)

// indexDue keeps what a work order is due for: that never changes.
func (t *Tx) indexDue(id string, o work.Order) error {
	for _, d := range o.Due {
		if _, err := t.exec("INSERT OR REPLACE INTO due (plan, target, key, first, day, workorder) VALUES (?,?,?,?,?,?)",
			d.Plan, d.Target, d.Key, cmp.Or(d.First, d.Key), d.On, id); err != nil {
			return err
		}
	}
	return nil
}

// PastOf gives the occurrences of maintenance plans that work orders were opened for, by plan and target: of one plan or of all (""), for
// some targets or for all (nil).
func (t *Tx) PastOf(plan string, targets []string) (map[string]map[string][]upkeep.Past, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	out := map[string]map[string][]upkeep.Past{}
	if targets == nil {
		return out, t.past(out, "?1 = '' OR d.plan = ?1", plan)
	}
	for _, target := range targets {
		if err := t.past(out, "d.target = ?2 AND (?1 = '' OR d.plan = ?1)", plan, target); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func (t *Tx) past(out map[string]map[string][]upkeep.Past, where string, args ...any) error {
	_, err := collect(t, func(row interface{ Scan(...any) error }) (none struct{}, err error) {
		var of, target, opened string
		var state work.State
		var p upkeep.Past
		if err := row.Scan(&of, &target, &p.Key, &p.First, &p.On, &p.Order, &opened, &state, &p.Done); err != nil {
			return none, err
		}
		if p.Over = state == work.Closed || state == work.Cancelled; state != work.Closed {
			p.Done = ""
		} else {
			p.Done = cmp.Or(p.Done, p.On)
		}
		if p.Since, err = time.Parse(time.RFC3339, opened); err != nil {
			return none, err
		}
		p.Since = p.Since.Add(time.Second - time.Millisecond) // it is kept to the second
		if out[of] == nil {
			out[of] = map[string][]upkeep.Past{}
		}
		out[of][target] = append(out[of][target], p)
		return none, nil
	}, `SELECT d.plan, d.target, d.key, d.first, d.day, d.workorder, w.opened, w.state,
		coalesce((SELECT max(v.ended_day) FROM visits v WHERE v.workorder = w.id AND v.stage = 'finished'), '')
		FROM due d JOIN workorders w ON w.id = d.workorder WHERE `+where+" ORDER BY d.plan, d.target, d.day, d.key", args...)
	return err
}

// OrdersOverdue lists work orders of maintenance plans that are not over, though the last day on which they might be done is, before a day:
// the longest first.
func (t *Tx) OrdersOverdue(day string, limit int) ([]string, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	return collect(t, scanString, `SELECT id FROM workorders WHERE due_by > '' AND due_by < ? AND state NOT IN ('closed', 'cancelled')
		ORDER BY due_by, number LIMIT ?`, day, limit)
}

// MachinesOf lists the ids of the machines and sites of a customer, or of the machines at a site with it; of a machine it is that alone.
func (t *Tx) MachinesOf(ref ledger.Ref) ([]string, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	switch ref.Type {
	case "customer":
		return collect(t, scanString, "SELECT id FROM assets WHERE customer = ?1 UNION ALL SELECT id FROM sites WHERE customer = ?1", ref.ID)
	case "site":
		return collect(t, scanString, "SELECT id FROM assets WHERE site = ?1 UNION ALL SELECT ?1", ref.ID)
	}
	return []string{ref.ID}, nil
}
