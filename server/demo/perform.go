package demo

import (
	"fmt"
	"math"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
	"iter.example/iter/server/company"
	"iter.example/iter/server/store"
)

// performance is a technician doing a visit, up to now.
type performance struct {
	g       *generator
	say     func(string, ledger.Ref, string, time.Time, any) (ledger.Entry, error)
	id      ledger.Ref
	tech    string
	asset   asset
	machine machine
	site    site
	at      time.Time
	recent  bool // photos are kept of the last days only
	done    bool
	number  string // of the work order
	order   string
	tasks   []work.Task
	helper  bool // goes along
	twice   bool // and clocks too
	forgets bool // to finish
	// fromHome tells that the drive begins at home.
	fromHome bool
	thought  *work.Drive // of the way there
	minutes  int
	pace     pace
	sheets   []string
	asked    bool // whether long sheets are filled in
	blocked  bool // by an answer with which the visit can't be complete
}

// helpers go along on the leader's first visits of a day.
func (g *generator) helpers(t trip) []string {
	if t.tech == leader && t.k < 2 && t.d >= -14 {
		return []string{helper}
	}
	return nil
}

func (p *performance) step(action string, body ledger.Step) error {
	return p.fact("visit."+action, body)
}

func (p *performance) fact(kind string, body any) error {
	_, err := p.say(kind, p.id, p.tech, p.at, body)
	p.at = p.after(time.Duration(20+p.g.r.Intn(60)) * time.Second)
	return err
}

// after is a while after what was recorded last, as quickly as the day goes by.
func (p *performance) after(d time.Duration) time.Time { return p.at.Add(p.pace.of(d)) }

// reach moves to a moment, and tells whether it has come.
func (p *performance) reach(at time.Time) bool {
	if at.After(p.at) {
		p.at = at
	}
	return p.at.Before(p.g.now)
}

func (p *performance) perform(start time.Time, drive time.Duration) error {
	g := p.g
	late := p.pace.of(time.Duration(g.r.Intn(20)-6) * time.Minute)
	start = start.Add(late)
	if earliest := g.free[p.tech].Add(drive + p.pace.of(3*time.Minute)); start.Before(earliest) {
		start = earliest
	}
	if !p.reach(start.Add(-drive)) {
		return nil
	}
	if err := p.step("set_off", ledger.Step{Home: p.fromHome, Drive: p.thought}); err != nil {
		return err
	}
	if p.recent && g.r.Intn(2) == 0 {
		if err := p.tell(start); err != nil {
			return err
		}
	}
	if !p.reach(start) {
		return nil
	}
	arrived := ledger.Step{Where: &work.Where{Lat: p.site.at.Lat, Lon: p.site.at.Lon, Accuracy: 8}}
	if len(p.tasks) > 0 {
		arrived.Task = p.tasks[0].ID
	}
	if err := p.step("arrived", arrived); err != nil {
		return err
	}
	if p.helper {
		if err := p.fact("crew.clocked", ledger.CrewClocked{Helper: helper, Clock: labor.Work}); err != nil {
			return err
		}
		if p.twice { // the helper clocks too
			at := g.local(p.after(9 * time.Minute))
			if _, err := g.by(helper, at).Append("crew.clocked", p.id, helper, at, ledger.CrewClocked{Helper: helper, Clock: labor.Work},
				nil); err != nil {
				return err
			}
		}
	}
	end := start.Add(time.Duration(p.minutes)*time.Minute + p.pace.of(time.Duration(g.r.Intn(30)-15)*time.Minute))
	g.free[p.tech] = end.Add(p.pace.of(5 * time.Minute))
	pause := start.Add(time.Duration(p.minutes/2) * time.Minute)
	for _, pt := range p.machine.points {
		if !p.reach(p.after(3 * time.Minute)) {
			return nil
		}
		if err := p.fact("reading.taken", ledger.Taken{Asset: p.asset.id, Kind: p.asset.kind, Point: pt.id,
			Value: g.gauge(p.asset, pt, p.at), Unit: pt.unit}); err != nil {
			return err
		}
	}
	if g.r.Intn(4) == 0 && p.reach(pause) {
		if err := p.step("paused", ledger.Step{Reason: "break", Clock: labor.Break}); err != nil ||
			!p.reach(pause.Add(p.pace.of(20*time.Minute))) {
			return err
		}
		if err := p.step("resumed", ledger.Step{}); err != nil {
			return err
		}
	}
	last := len(p.tasks)
	if g.r.Intn(5) == 0 {
		last-- // the last is left for another time
	}
	for i, t := range p.tasks {
		if i > 0 {
			if err := p.fact("task.started", ledger.TaskTaken{Order: p.order, Task: t.ID}); err != nil {
				return err
			}
		}
		if !p.reach(p.after(time.Duration(6+g.r.Intn(6)) * time.Minute)) {
			return nil
		}
		if i < last {
			if err := p.fact("task.done", ledger.TaskTaken{Order: p.order, Task: t.ID}); err != nil {
				return err
			}
			if result := g.rare.Intn(2 * len(results)); p.recent && result < len(results) {
				if err := p.fact("task.noted", ledger.TaskNoted{Order: p.order, Task: t.ID, Result: results[result].ID}); err != nil {
					return err
				}
			}
		}
	}
	if !p.reach(p.after(5 * time.Minute)) {
		return nil
	}
	for range g.r.Intn(3) {
		if err := p.fact("part.used", ledger.Use{Part: p.machine.parts[g.r.Intn(len(p.machine.parts))], Place: "van-" + p.tech,
			Quantity: decimal.NewFromInt(1)}); err != nil {
			return err
		}
	}
	answers := [][2]string{{"isolated", "yes"}, {"leaks", pick(g.r, "no", "no", "no", "yes")},
		{"noise", pick(g.r, "normal", "normal", "raised")}, {"bearing", fmt.Sprint(38 + g.r.Intn(30))}, {"left", "yes"}}
	for _, a := range answers {
		if !p.reach(p.after(time.Minute)) {
			return nil
		}
		if err := p.fact("sheet.answered", ledger.Answered{Sheet: company.Service.Ref(), Question: a[0], Value: a[1]}); err != nil {
			return err
		}
	}
	if ok, err := p.inspect(); err != nil || !ok {
		return err
	}
	if err := p.photograph(); err != nil {
		return err
	}
	if err := p.fact("note.written", ledger.Note{Text: notes[g.r.Intn(len(notes))]}); err != nil || !p.reach(end) {
		return err
	}
	if d, known := diagnoses[p.asset.kind]; known && p.recent {
		d.Asset = p.asset.id
		if _, err := p.say("trouble.found", p.id, p.tech, p.at, d); err != nil {
			return err
		}
	}
	if p.forgets {
		return g.closeForgotten(p.id, end)
	}
	if p.helper {
		if err := p.fact("crew.clocked", ledger.CrewClocked{Helper: helper, Clock: labor.Stop}); err != nil {
			return err
		}
	}
	switch signs := g.r.Intn(9) > 0; {
	case signs:
		if err := p.sign(); err != nil {
			return err
		}
	case !p.recent: // whoever was not there then has been asked since
		if err := p.fact("signoff.missed", ledger.Absent{Reason: "nobody", Name: p.site.contact}); err != nil {
			return err
		}
	}
	err := p.finish()
	g.free[p.tech], p.done = p.at, true
	return err
}

// photograph takes up to three photos.
func (p *performance) photograph() error {
	if !p.recent {
		return nil
	}
	for i := range p.g.r.Intn(4) {
		ref, err := p.g.shot(i, p.tech, p.g.local(p.at))
		if err != nil {
			return err
		}
		if err := p.fact("file.attached", ledger.File{FileRef: ref, Caption: pick(p.g.r, "Before", "After", "Discharge gauge",
			"Where it weeps", "Name plate")}); err != nil {
			return err
		}
	}
	return nil
}

func (p *performance) sign() error {
	v, err := store.Wanting(p.g.w.Tx, ledger.Docs{}, func(docs ledger.Docs) (*view.Visit, []ledger.Ref, error) {
		return view.Of(p.id.ID, docs, p.g.local(p.at))
	})
	if err != nil {
		return err
	}
	stroke := [][2]int{}
	phase := p.g.r.Float64() * 3
	for x := 120; x < 820; x += 14 {
		t := float64(x) / 60
		stroke = append(stroke, [2]int{x, 170 + int(70*math.Sin(t*1.7+phase)*math.Cos(t/3)) - x/20})
	}
	return p.fact("signoff.captured", ledger.Signed{Name: signers[p.g.r.Intn(len(signers))], Role: "Customer",
		Strokes: signoff.Strokes{stroke}, Summary: v.Summary, Digest: v.Digest})
}
