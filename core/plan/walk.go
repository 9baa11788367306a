package plan

// Walk is how far somebody has come through a day, and what it comes to until there. A copy goes on by itself.
type Walk struct {
	Course
	// Closed is how many seconds of visits sites are closed in.
	Closed int
	at     int // place, below zero: nobody knows
	free   int // since when, never before the first stop
	begun  bool
	begin  int // when they set off
	owed   int // of their breaks
}

// Walk begins a lane's day.
func (d *Day) Walk(l *Lane) Walk { return Walk{at: l.Start, free: never} }

// Same tells whether two walks go on alike: the same place at the same time.
func (w Walk) Same(v Walk) bool {
	return w.at == v.at && w.free == v.free && w.begun == v.begun && w.begin == v.begin && w.owed == v.owed
}

// CostOf weighs what a walk comes to, in seconds of driving.
func (d *Day) CostOf(w Walk) int { return d.Cost(w.Course) + d.weigh.Shut*w.Closed }

// Even is what a load costs beside all else, in seconds of driving: work and driving of a lane's day, which is to be shared. It grows with
// the square of how much of the day it fills, so that a full day and an empty one cost more than two halves.
func (d *Day) Even(l *Lane, load int) int {
	full := usualDay
	if n := len(l.Hours); n > 0 {
		full = max(l.Hours[n-1].To-l.Hours[0].From, usualDay/2)
	}
	return 2 * 60 * d.weigh.Even * load / full * load / full
}

// usualDay is how long a day is of which nothing is said.
const usualDay = 8 * 3600

// Visit goes on to a stop.
func (d *Day) Visit(l *Lane, w *Walk, p *Placed) Pass {
	s := d.visit(w.at, w.free, p)
	if !l.Thing {
		w.Drive += s.Drive
	}
	w.Late += p.late(s)
	if !p.Begun && !p.Over {
		w.After += max(s.Arrive-p.Begin, 0)
	}
	if !w.begun {
		w.begun, w.begin = true, s.Off
	}
	// A place that no road goes to is gone to from where one was and left for there, as one that nobody knows.
	if _, known := d.table.way(w.at, p.Place); p.Place >= 0 && (w.at < 0 || known) {
		w.at = p.Place
	}
	w.owed = l.owed(w.owed, w.free, s)
	w.free = max(w.free, s.Leave)
	w.Closed += outsideAll(p.Open, p.Always, s.Arrive, s.Leave)
	return s
}

// Home goes home, and tells what was overtime.
func (d *Day) Home(l *Lane, w *Walk) {
	if !w.begun {
		return
	}
	end := w.free
	if road, known := d.table.way(w.at, l.Start); known && !l.Thing {
		home := d.hours.After(d.Week+w.free, road.road, road.ferry)
		w.Drive, end = w.Drive+home, end+home
	}
	w.Over = l.outside(w.begin, end)
}

// Soonest is when a visit can begin that somebody goes to next, on the clock that visits are planned on.
func (d *Day) Soonest(l *Lane, w Walk, v Want) int {
	return d.soonest(v, l, spot{at: w.at, free: w.free, owed: w.owed, next: Whenever})
}
