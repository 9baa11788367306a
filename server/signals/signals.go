// Package signals takes what machines report by themselves, over HTTP or MQTT, judges it by the rules of their kind, and opens what
// follows: an incident, with a work order or something for the office to look at, once until the machine is well again.
package signals

import (
	"context"
	"log/slog"
	"slices"
	"sync"
	"time"

	"github.com/shopspring/decimal"
	"golang.org/x/time/rate"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/unit"
	"iter.example/iter/server/store"
)

// Signal is what a source sends: what a machine reports of a point. The machine goes by its id or its serial number, the point by its id.
type Signal struct {
	Machine string          `json:"machine"`
	Point   string          `json:"point"`
	Value   decimal.Decimal `json:"value"`
	Unit    string          `json:"unit,omitempty"` // the point's own when left out
	At      time.Time       `json:"at,omitzero"`    // when it comes in, when left out
}

// Answer is what became of signals.
type Answer struct {
	Taken   int       `json:"taken"`
	Known   int       `json:"known,omitempty"` // that were taken before
	Refused []Refused `json:"refused,omitempty"`
}

// Refused is a signal that was not taken, by its place among those sent, and why.
type Refused struct {
	Index int      `json:"index"`
	Why   msg.Code `json:"why"`
}

// MostAtOnce is how many signals are taken at once.
const MostAtOnce = 1000

// How many signals a second are taken of a source in the long run, and how many at once.
const (
	perSecond = 1000
	atOnce    = 5000
)

// ahead is by how much a clock may be wrong.
const ahead = 2 * time.Minute

// Taker takes signals. Its methods may be called at the same time.
type Taker struct {
	Store *store.Store
	Now   func() time.Time
	Log   *slog.Logger

	raw    *raw
	judge  sync.Mutex // held while watches look
	mu     sync.Mutex
	known  map[string]*machine // by what it goes by; nil of what is none
	watch  map[string]*watched // by machine
	limits map[string]*rate.Limiter
	zone   *labor.Zone // of the company; nil until it is read
}

// machine is what is to be known of a machine that reports.
type machine struct {
	id     string
	site   string
	name   string
	kind   string
	points []reading.Point
}

// taken is a signal as it is kept, in the unit of the point.
type taken struct {
	Signal
	machine *machine
	point   reading.Point
}

// New makes a taker, with what was kept before.
func New(ctx context.Context, s *store.Store, now func() time.Time, log *slog.Logger) (*Taker, error) {
	r, err := openRaw(ctx, s.Dir())
	if err != nil {
		return nil, err
	}
	return &Taker{Store: s, Now: now, Log: log, raw: r, known: map[string]*machine{}, watch: map[string]*watched{},
		limits: map[string]*rate.Limiter{}}, nil
}

// Close closes what is kept.
func (t *Taker) Close() error { return t.raw.db.Close() }

// Heard forgets what rests on what was written.
func (t *Taker) Heard(c store.Changed) {
	rests := []string{"asset", "assetkind", "signalrules", "site", "settings"}
	if !slices.ContainsFunc(c.Docs, func(r ledger.Ref) bool { return slices.Contains(rests, r.Type) }) {
		return
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	t.known, t.watch, t.zone = map[string]*machine{}, map[string]*watched{}, nil
}

// Source finds who sends by their key.
func (t *Taker) Source(ctx context.Context, key string) (src store.SignalSource, ok bool, err error) {
	err = t.Store.Read(ctx, func(tx *store.Tx) error { src, ok, err = tx.SignalSourceBy(key); return err })
	return src, ok, err
}

// Limit is what a source may send.
func (t *Taker) Limit(source string) *rate.Limiter {
	t.mu.Lock()
	defer t.mu.Unlock()
	l := t.limits[source]
	if l == nil {
		l = rate.NewLimiter(perSecond, atOnce)
		t.limits[source] = l
	}
	return l
}

// Take takes signals of a source. What can't be taken is told, the others are taken.
func (t *Taker) Take(ctx context.Context, src store.SignalSource, list []Signal) (Answer, error) {
	var out Answer
	var good []taken
	now := t.Now()
	oldest := now.AddDate(0, 0, -MaxAge)
	for i, s := range list {
		x, why, err := t.read(ctx, src, s, now, oldest)
		if err != nil {
			return out, err
		}
		if why != nil {
			out.Refused = append(out.Refused, Refused{i, *why})
			continue
		}
		good = append(good, x)
	}
	if len(good) == 0 {
		return out, nil
	}
	slices.SortStableFunc(good, func(a, b taken) int { return a.At.Compare(b.At) })
	fresh, err := t.raw.put(ctx, src.ID, good)
	if err != nil {
		return out, err
	}
	for i, x := range good {
		if !fresh[i] {
			out.Known++
			continue
		}
		out.Taken++
		if err := t.look(ctx, x); err != nil {
			return out, err
		}
	}
	return out, nil
}

// MaxAge is for how many days signals may come late.
const MaxAge = 30

// maxValue is past any gauge there is.
var maxValue = decimal.New(1, 12)

// read says what a signal is about, or why it can't be taken.
func (t *Taker) read(ctx context.Context, src store.SignalSource, s Signal, now, oldest time.Time) (x taken, why *msg.Code, err error) {
	if s.At.IsZero() {
		s.At = now
	}
	switch {
	case s.At.After(now.Add(ahead)):
		return x, msg.New("signal.future"), nil
	case s.At.Before(oldest):
		return x, msg.New("signal.old"), nil
	case s.Value.Abs().GreaterThan(maxValue) || s.Value.Exponent() < -9 || s.Value.Exponent() > 12:
		return x, msg.New("reading.absurd"), nil
	}
	m, err := t.machine(ctx, s.Machine)
	if err != nil {
		return x, nil, err
	}
	if m == nil || !slices.Contains(src.Sites, m.site) {
		return x, msg.New("signal.machine", "machine", records.Clip(s.Machine)), nil
	}
	p, ok := reading.Find(m.points, s.Point)
	if !ok {
		return x, msg.New("signal.no_point", "point", records.Clip(s.Point)), nil
	}
	if s.Unit != "" && s.Unit != p.Unit {
		v, can, err := unit.Convert(s.Value, s.Unit, p.Unit)
		if err != nil || !can {
			return x, msg.New("signal.unit", "unit", records.Clip(s.Unit)), nil //nolint:nilerr // a unit that nobody knows
		}
		s.Value = v
	}
	s.At = s.At.Truncate(time.Millisecond)
	return taken{s, m, p}, nil, nil
}

// machine is the machine that goes by a name; nil when there is none, or it is taken out.
func (t *Taker) machine(ctx context.Context, name string) (*machine, error) {
	t.mu.Lock()
	m, known := t.known[name]
	t.mu.Unlock()
	if known {
		return m, nil
	}
	err := t.Store.Read(ctx, func(tx *store.Tx) (err error) {
		m, err = findMachine(tx, name)
		return err
	})
	if err != nil {
		return nil, err
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if len(t.known) > mostKnown { // names that are none are no reason to grow
		t.known = map[string]*machine{}
	}
	t.known[name] = m
	return m, nil
}

// mostKnown is how many machines are remembered.
const mostKnown = 50_000

func findMachine(tx *store.Tx, name string) (*machine, error) {
	if records.CheckID(name) != nil && len(name) > 100 {
		return nil, nil
	}
	id, err := tx.MachineNamed(name)
	for i := 0; err == nil && id != "" && i < 10; i++ {
		var a records.Asset
		if _, err = tx.Load("asset", id, &a); err != nil {
			return nil, err
		}
		if a.Merged != "" {
			id = a.Merged
			continue
		}
		if a.Removed != "" || a.Struck {
			return nil, nil
		}
		var k records.AssetKind
		_, err = tx.Load("assetkind", a.Kind, &k)
		return &machine{id: id, site: a.Site, name: a.Name, kind: a.Kind, points: k.PointsOf(a)}, err
	}
	return nil, err
}

// Latest gives what a machine reported last of each point.
func (t *Taker) Latest(ctx context.Context, machine string) (map[string]signal.Value, error) {
	return t.raw.latest(ctx, machine)
}

// HeardOf tells of all machines that reported something when they did last.
func (t *Taker) HeardOf(ctx context.Context) (map[string]time.Time, error) {
	return t.raw.machines(ctx)
}
