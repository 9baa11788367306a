package work

import (
	"maps"
	"slices"
	"time"

	"iter.example/iter/core/ordered"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/sheet"
)

// Handled is what the office did about a point of attention.
type Handled struct {
	At     time.Time `json:"at"`
	Person string    `json:"person"`
	Order  string    `json:"order,omitempty"` // the work opened for it
	Reason string    `json:"reason,omitempty"`
}

// Origin is what a work order follows up: a point of attention of a visit, or another order.
type Origin struct {
	Visit string `json:"visit,omitempty"`
	Key   string `json:"key,omitempty"`
	// Order is the other order.
	Order string `json:"order,omitempty"`
}

// Concern is why something on a visit wants the office's attention, the most pressing first.
type Concern string

const (
	ConcernHazard    Concern = "hazard"
	ConcernAlarm     Concern = "alarm"
	ConcernFailed    Concern = "failed"
	ConcernNote      Concern = "note" // somebody wrote for the office
	ConcernFollowUp  Concern = "follow_up"
	ConcernWarning   Concern = "warning"
	ConcernRecommend Concern = "recommendation"
	ConcernDoubt     Concern = "doubt"
)

// Values lists the concerns, for generated types.
func (Concern) Values() []string {
	return []string{string(ConcernHazard), string(ConcernAlarm), string(ConcernFailed), string(ConcernNote), string(ConcernFollowUp),
		string(ConcernWarning), string(ConcernRecommend), string(ConcernDoubt)}
}

// Attention is something on a visit that the office should act on.
type Attention struct {
	Key     string    `json:"key"` // within the visit; the same as long as what it is about is
	Concern Concern   `json:"concern"`
	At      time.Time `json:"at"`
	Person  string    `json:"person"`
	Asset   string    `json:"asset,omitempty"`
	Text    string    `json:"text,omitempty"`  // of an answer or proposal, in the words of the sheet or person
	Point   string    `json:"point,omitempty"` // of a reading; of a derived value its name
	Value   string    `json:"value,omitempty"` // of a reading, or the answer that failed
	Unit    string    `json:"unit,omitempty"`
	Code    string    `json:"code,omitempty"` // of a reading: its level or doubt
	Part    string    `json:"part,omitempty"` // that it would take
	// Lines are those of a recommendation, and what the customer said to each.
	Lines   []ProposalLine `json:"lines,omitempty"`
	Handled *Handled       `json:"handled,omitempty"`
}

func concernOf(l reading.Level) Concern {
	if l == reading.AlarmLow || l == reading.AlarmHigh {
		return ConcernAlarm
	}
	return ConcernWarning
}

// Attentions lists what on a visit wants attention, the most pressing first. asset is the work order's, states are of its sheets.
func (v Visit) Attentions(asset string, states []sheet.State) []Attention {
	out := []Attention{}
	add := func(a Attention) {
		if h, ok := v.Handled[a.Key]; ok {
			a.Handled = &h
		}
		out = append(out, a)
	}
	for _, st := range states {
		for _, al := range st.Alerts {
			c := map[sheet.AlertKind]Concern{sheet.Hazard: ConcernHazard, sheet.Failed: ConcernFailed,
				sheet.Recommendation: ConcernRecommend}[al.Kind]
			a := Attention{Key: "sheet " + st.Sheet + " " + string(al.Kind) + " " + sheet.Key(al.Question, al.Item), Concern: c, At: al.At,
				Person: al.Person, Asset: asset, Text: al.Text, Value: al.Value}
			if al.Recommend != nil {
				a.Part = al.Recommend.Part + al.Recommend.Kit
			}
			// What the technician made a proposal of is there as that.
			if slices.ContainsFunc(v.Proposals, func(p Proposal) bool { return !p.Struck && p.About == a.Key }) {
				continue
			}
			add(a)
		}
	}
	for _, r := range v.Readings {
		if r.Struck {
			continue
		}
		a := Attention{At: r.At, Person: r.Person, Asset: r.Asset, Point: r.Point, Value: r.Value.String(), Unit: r.Unit}
		if r.Doubt != reading.Sure {
			a.Key, a.Concern, a.Code = "doubt "+r.Entry, ConcernDoubt, string(r.Doubt)
			add(a)
		}
		// Of readings at one point the last says how the machine was left.
		if r.Level == "" || r.Level == reading.OK || slices.ContainsFunc(v.Readings, func(o reading.Reading) bool {
			return !o.Struck && o.Asset == r.Asset && o.Point == r.Point && byTime(o.At, o.Entry, r.At, r.Entry) > 0
		}) {
			continue
		}
		a.Key, a.Concern, a.Code = "reading "+r.Asset+" "+r.Point, concernOf(r.Level), string(r.Level)
		add(a)
	}
	for _, asset := range slices.Sorted(maps.Keys(v.Derived)) {
		of := slices.IndexFunc(v.Readings, func(r reading.Reading) bool { return r.Asset == asset && !r.Struck })
		if of < 0 {
			continue
		}
		for _, d := range v.Derived[asset] {
			add(Attention{Key: "derived " + asset + " " + d.ID, Concern: concernOf(d.Level), At: v.Readings[of].At,
				Person: v.Readings[of].Person, Asset: asset, Point: d.Name, Value: d.Value.String(), Unit: d.Unit, Code: string(d.Level)})
		}
	}
	for _, p := range v.Proposals {
		if p.Struck {
			continue
		}
		a := Attention{Key: "proposal " + p.Entry, Concern: ConcernRecommend, At: p.At, Person: p.Person, Asset: p.Asset, Text: p.Text,
			Part: p.Part + p.Kit, Lines: p.Lines}
		if p.Kind == FollowUp || p.Taken() {
			a.Concern = ConcernFollowUp
		}
		add(a)
	}
	for _, n := range v.Notes {
		if n.Office && !n.Struck {
			add(Attention{Key: "note " + n.Entry, Concern: ConcernNote, At: n.At, Person: n.Person, Text: n.Text})
		}
	}
	rank := Concern("").Values()
	ordered.Stable(out, func(a, b Attention) int {
		return slices.Index(rank, string(a.Concern)) - slices.Index(rank, string(b.Concern))
	})
	return out
}

// Given is what a visit gives to fill in one of its sheets.
func (v Visit) Given(ref, asset string) sheet.Given {
	g := sheet.Given{Answers: v.Answers[ref], Items: v.Items[ref], Begun: v.SheetsBegun[ref], Asset: asset, Photos: map[string]int{},
		Readings: map[string]reading.Result{}}
	for _, f := range v.Files {
		if !f.Struck && f.About.Sheet == ref {
			g.Photos[sheet.Key(f.About.Question, f.About.Item)]++
		}
	}
	for _, r := range v.Readings {
		key := sheet.ReadingKey(r.Asset, r.Point)
		if have, ok := g.Readings[key]; !r.Struck && (!ok || byTime(r.At, r.Entry, have.At, have.Entry) > 0) {
			g.Readings[key] = reading.Result{Entry: r.Entry, At: r.At, Value: r.Value, Unit: r.Unit, Level: r.Level}
		}
	}
	return g
}
