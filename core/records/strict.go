package records

import (
	"slices"
	"strconv"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
)

// What is asked of a record since version 2 of the entries about records (CheckNew), beside what Check asks. What was recorded before
// stands as it is.

// The most that a list of the policy holds, and the longest of its texts, in characters.
const (
	maxList = 500
	maxLine = 500
)

// CheckNew says where a point can't be on earth.
func (p Point) CheckNew() error {
	if !(p.Lat >= -90 && p.Lat <= 90 && p.Lon >= -180 && p.Lon <= 180) {
		return msg.New("site.position")
	}
	return nil
}

// CheckNew says what is wrong with a person's record beside what it lacks.
func (p Person) CheckNew() error {
	if p.Home != nil {
		if err := p.Home.CheckNew(); err != nil {
			return err
		}
	}
	if p.Van != "" {
		if err := CheckID(p.Van); err != nil {
			return err
		}
	}
	if len(p.Skills) > maxList {
		return msg.New("policy.list", "list", "skills", "max", strconv.Itoa(maxList))
	}
	return checkShort([][2]string{{"short", p.Short}, {"phone", p.Phone}})
}

// CheckNew says what of a policy can't be meant: a currency or a zone that does not exist, a place that is not on earth, a list with the
// same id twice.
func (p Policy) CheckNew() error {
	if !p.Currency.Known() {
		return msg.New("policy.currency", "currency", Clip(string(p.Currency)))
	}
	if err := checkZone(p.Zone); err != nil {
		return err
	}
	if p.Yard != nil {
		if err := p.Yard.CheckNew(); err != nil {
			return err
		}
	}
	lists := []struct {
		name string
		list []Choice
	}{
		{"pauses", p.Pauses}, {"declines", p.Declines}, {"returns", p.Returns}, {"works", p.Works}, {"indirect", p.Indirect},
		{"skills", p.Skills},
		{"taxes", p.Taxes}, {"skips", p.Skips}, {"unsigned", p.Unsigned}, {"suppliers", nil}, {"substances", nil},
	}
	suppliers, substances := &lists[9].list, &lists[10].list
	for _, s := range p.Suppliers {
		*suppliers = append(*suppliers, Choice{ID: s.ID, Text: s.Name})
	}
	for _, s := range p.Substances {
		*substances = append(*substances, Choice{ID: s.ID, Text: s.Name})
		if s.Allowed != nil && s.Allowed.IsNegative() {
			return msg.New("policy.allowed", "name", Clip(s.Name))
		}
	}
	for _, l := range lists {
		if err := checkChoices(l.name, l.list); err != nil {
			return err
		}
	}
	if err := checkLines("phrases", p.Phrases); err != nil {
		return err
	}
	if err := checkLines("signers", p.Signers); err != nil {
		return err
	}
	for _, r := range p.SheetRules {
		if err := CheckID(r.Sheet); err != nil {
			return err
		}
	}
	if p.MaxHolds < 0 || p.MaxHolds > 365 {
		return msg.New("policy.number", "field", "maxHolds")
	}
	if p.Waiting < 0 || p.Waiting > 365 {
		return msg.New("policy.number", "field", "waiting")
	}
	return CheckText("phone", p.Phone, false, 200)
}

// checkZone says why a zone can't be a company's: it has no name, or no hours from UTC that a place can have.
func checkZone(z labor.Zone) error {
	const furthest = 16 * 60 * 60 // seconds; no zone is as far from UTC
	far := func(s labor.Shift) bool { return s.Offset < -furthest || s.Offset > furthest }
	sorted := slices.IsSortedFunc(z.Shifts, func(a, b labor.Shift) int { return int(min(max(a.From-b.From, -1), 1)) })
	if z.Name == "" || len(z.Name) > 100 || len(z.Shifts) == 0 || len(z.Shifts) > 2000 || !sorted || slices.ContainsFunc(z.Shifts, far) {
		return msg.New("policy.zone", "zone", Clip(z.Name))
	}
	return nil
}

func checkLines(name string, list []string) error {
	if len(list) > maxList {
		return msg.New("policy.list", "list", name, "max", strconv.Itoa(maxList))
	}
	for _, text := range list {
		if err := CheckText(name, text, true, maxLine); err != nil {
			return err
		}
	}
	return nil
}

func checkChoices(name string, list []Choice) error {
	if len(list) > maxList {
		return msg.New("policy.list", "list", name, "max", strconv.Itoa(maxList))
	}
	seen := map[string]bool{}
	for _, r := range list {
		if err := CheckID(r.ID); err != nil {
			return err
		}
		if seen[r.ID] {
			return msg.New("policy.twice", "list", name, "id", r.ID)
		}
		seen[r.ID] = true
		if err := CheckText(name, r.Text, true, maxLine); err != nil {
			return err
		}
	}
	return nil
}
