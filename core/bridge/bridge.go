// Package bridge is the core as a browser calls it: a function's name and JSON in, JSON out. The WebAssembly program does
// nothing but hand strings to Call, so whatever runs here runs there.
package bridge

import (
	"encoding/json"
	"maps"
	"sync"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/area"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/report"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

// Stamp makes an entry of a draft. Now is milliseconds since 1970 on the device's clock.
type Stamp struct {
	State replica.State `json:"state"`
	Draft replica.Draft `json:"draft"`
	ID    string        `json:"id"`
	Now   int64         `json:"now"`
	Zone  labor.Zone    `json:"zone"`
}

// Stamped is the entry made, the state after it, and the documents needed to apply it.
type Stamped struct {
	State replica.State `json:"state"`
	Entry ledger.Entry  `json:"entry"`
	Keys  []ledger.Ref  `json:"keys"`
}

// Apply applies an entry to documents.
type Apply struct {
	Docs  []ledger.Doc `json:"docs"`
	Entry ledger.Entry `json:"entry"`
}

// Applied is what an entry changed. Documents are in the order of the entry's keys.
type Applied struct {
	Docs  []ledger.Doc  `json:"docs"`
	Flags []ledger.Flag `json:"flags"`
}

// Strike asks for what a strike-out of an entry has to say beside what is known of the entry. A document without a body is known not to be there.
type Strike struct {
	Docs    []ledger.Doc  `json:"docs"`
	Subject ledger.Ref    `json:"subject"`
	Strike  ledger.Struck `json:"strike"`
}

// Striking is the whole of it, or the documents to load first.
type Striking struct {
	Strike ledger.Struck `json:"strike"`
	Wanted []ledger.Ref  `json:"wanted"`
}

// Next asks what to send.
type Next struct {
	State   replica.State     `json:"state"`
	Pending []replica.Pending `json:"pending"`
	Now     int64             `json:"now"`
}

// Receive takes in an answer. Sent and Now, when it came, are milliseconds since 1970 on the device's clock; Took is how many passed between
// them on one that nobody sets.
type Receive struct {
	State   replica.State     `json:"state"`
	Pending []replica.Pending `json:"pending"`
	Base    []ledger.Doc      `json:"base"`
	// Acknowledged is needed when the response says Renew.
	Acknowledged []replica.Pending `json:"acknowledged"`
	Response     replica.Response  `json:"response"`
	Sent         int64             `json:"sent"`
	Now          int64             `json:"now"`
	Took         float64           `json:"took"`
	Identity     string            `json:"identity"`
}

// Visit asks for the view of a visit. A document without a body is known not to be there.
type Visit struct {
	ID   string       `json:"id"`
	Docs []ledger.Doc `json:"docs"`
	Now  int64        `json:"now"` // milliseconds since 1970, on the server's clock
	Zone labor.Zone   `json:"zone"`
}

// Viewed is a view, or the documents to load first.
type Viewed struct {
	Visit  *view.Visit  `json:"visit"`
	Wanted []ledger.Ref `json:"wanted"`
}

// Report asks for what a service report of a visit says.
type Report struct {
	Visit
	Wish view.Wish `json:"wish"`
}

// Reported is what it says, with its digest and code, or the documents to load first.
type Reported struct {
	Report *report.Report `json:"report,omitempty"`
	Digest string         `json:"digest,omitempty"`
	Code   string         `json:"code,omitempty"`
	Wanted []ledger.Ref   `json:"wanted"`
}

// Unread asks how much of a conversation somebody has not read.
type Unread struct {
	Talk   talk.Talk `json:"talk"`
	Reader string    `json:"reader"`
}

// Summary asks for what a signer is shown of a visit, or of one day of it.
type Summary struct {
	Visit
	Day string `json:"day,omitempty"`
}

// Summed is that, or the documents to load first.
type Summed struct {
	Summary signoff.Summary `json:"summary"`
	Digest  string          `json:"digest"`
	Wanted  []ledger.Ref    `json:"wanted"`
}

// History asks for what was done at a site before.
type History struct {
	Site string       `json:"site"`
	Docs []ledger.Doc `json:"docs"`
}

// Earlier is that, or the documents to load first.
type Earlier struct {
	Lines  []view.EarlierLine `json:"lines"`
	Wanted []ledger.Ref       `json:"wanted"`
}

// Days asks for a person's days from their timecards. For the week's overtime they go back to a Monday, and a day more for
// what ran over midnight.
type Days struct {
	Cards []labor.Timecard `json:"cards"`
	Now   int64            `json:"now"`
	Zone  labor.Zone       `json:"zone"`
	Rules []labor.Rules    `json:"rules"`
}

// RouteStop is a visit of the day with its work order and site.
type RouteStop struct {
	ID    string       `json:"id"`
	Visit work.Visit   `json:"visit"`
	Order work.Order   `json:"order"`
	Site  records.Site `json:"site"`
}

// Route asks for a day's stops as they will be: in order, with the legs between them. Start is where the day begins, and Order
// the person's own order of the stops.
type Route struct {
	Stops []RouteStop    `json:"stops"`
	Order []string       `json:"order"`
	Start *records.Point `json:"start,omitempty"`
	Now   int64          `json:"now"`
	Zone  labor.Zone     `json:"zone"`
}

func (r Route) arranged() ([]plan.Stop, time.Time) {
	var stops []plan.Stop
	for _, s := range r.Stops {
		stops = append(stops, plan.StopOf(s.ID, s.Visit, s.Order, s.Site))
	}
	return plan.Arrange(stops, r.Order), r.Zone.In(time.UnixMilli(r.Now))
}

// Coast is what a map shows: the shores as closed lines, and the roads as short ones, by class.
type Coast struct {
	Land  [][]records.Point                  `json:"land"`
	Roads map[roads.Class][][2]records.Point `json:"roads"`
}

// Holds asks how many tasks a person has on hold, and how many they may.
type Holds struct {
	Orders []work.Order   `json:"orders"`
	Person string         `json:"person"`
	Policy records.Policy `json:"policy"`
}

// Held answers Holds.
type Held struct {
	Count int `json:"count"`
	Most  int `json:"most"`
}

// Message asks for a message to a customer, filled in.
type Message struct {
	Template records.Template  `json:"template"`
	Values   map[string]string `json:"values"`
}

// Clocks are what the clocks of some people say at a moment.
type Clocks struct {
	Cards []labor.Timecard `json:"cards"`
	Now   int64            `json:"now"` // milliseconds since 1970, on the server's clock
	Zone  labor.Zone       `json:"zone"`
}

// Dock asks what a person can do on a visit. Sites are the sites of the visits that are on the cards, by visit.
type Dock struct {
	Clocks
	ID     string            `json:"id"`
	Visit  work.Visit        `json:"visit"`
	Order  work.Order        `json:"order"`
	Person string            `json:"person"`
	Sites  map[string]string `json:"sites"`
}

// Standings asks where visits stand by the clocks of those who are on them.
type Standings struct {
	Clocks
	Visits []KnownVisit `json:"visits"`
}

// KnownVisit is a visit with its id.
type KnownVisit struct {
	ID    string     `json:"id"`
	Visit work.Visit `json:"visit"`
}

// Fill asks what a sheet of a visit comes to, or how it is begun. A version is compiled once: after the first time its document need not
// be there.
type Fill struct {
	Ref   string          `json:"ref"`
	Sheet json.RawMessage `json:"sheet,omitempty"`
	// Visit needs to have what was recorded for this sheet, and the readings.
	Visit  work.Visit  `json:"visit"`
	Around view.Around `json:"around"`
	// As is a number that whoever asks gives this question, and gives no other. Since is that of an earlier one, for which Changed are
	// the answers that are other since, by sheet.Key; the rest is as it was then, and Visit and Around need not be there.
	As      int                     `json:"as"`
	Since   int                     `json:"since,omitempty"`
	Changed map[string]sheet.Answer `json:"changed,omitempty"`
}

// Filled is the answer; without a State more is wanted: all of it, with the sheet's document.
type Filled struct {
	State *sheet.State       `json:"state,omitempty"`
	Begin *ledger.SheetBegun `json:"begin,omitempty"`
}

// Nearby asks who has a part, seen from a place.
type Nearby struct {
	From     *records.Point  `json:"from,omitempty"`
	Quantity decimal.Decimal `json:"quantity"`
	Holders  []plan.Holder   `json:"holders"`
}

// Codes asks what catalogues find parts by that have some codes on their labels.
type Codes struct {
	Codes []string `json:"codes"`
}

// InUnit asks for a quantity in the part's own unit.
type InUnit struct {
	Part     stock.Part      `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
	Unit     string          `json:"unit"`
}

// Converted is the answer.
type Converted struct {
	Quantity decimal.Decimal `json:"quantity"`
}

// Units lists the units that a part may be given in.
type Units struct {
	Units []string `json:"units"`
}

// Square is the size of a measured area.
type Square struct {
	Square decimal.Decimal `json:"square"` // m2
}

// Answer asks whether what was typed answers a question.
type Answer struct {
	Question sheet.Question `json:"question"`
	Value    string         `json:"value"`
}

// Answered is the canonical answer.
type Answered struct {
	Value string `json:"value"`
}

// Failure is what Call gives when a function failed.
type Failure struct {
	Error *msg.Code `json:"error"`
}

var functions = map[string]func([]byte) (any, error){
	"stamp": with(func(in Stamp) (any, error) {
		s, e := replica.Stamp(in.State, in.Draft, in.ID, time.UnixMilli(in.Now), in.Zone)
		f, err := ledger.Open(e)
		if err != nil {
			return nil, err
		}
		return Stamped{s, e, f.Keys()}, nil
	}),
	"apply": with(func(in Apply) (any, error) {
		f, err := ledger.Open(in.Entry)
		if err != nil {
			return nil, err
		}
		changed, flags, err := f.Apply(bodies(in.Docs))
		if err != nil {
			return nil, err
		}
		out := Applied{Docs: []ledger.Doc{}, Flags: append([]ledger.Flag{}, flags...)}
		for _, k := range f.Keys() {
			if b, ok := changed[k]; ok {
				out.Docs = append(out.Docs, ledger.Doc{Ref: k, Body: b})
			}
		}
		return out, nil
	}),
	"strike": with(func(in Strike) (any, error) {
		var m ledger.Memory
		for ref, text := range bodies(in.Docs) {
			m.Put(ref, text)
		}
		strike, wanted, err := ledger.Striking(&m, in.Subject, in.Strike)
		return Striking{strike, append([]ledger.Ref{}, wanted...)}, err
	}),
	"next": with(func(in Next) (any, error) {
		return replica.Next(in.State, in.Pending, time.UnixMilli(in.Now).UTC()), nil
	}),
	"touched": with(func(in Receive) (any, error) {
		return append([]ledger.Ref{}, replica.Touched(in.State, in.Pending, in.Response)...), nil
	}),
	"receive": with(func(in Receive) (any, error) {
		trip := replica.Trip{Sent: time.UnixMilli(in.Sent), Arrived: time.UnixMilli(in.Now), Took: time.Duration(in.Took * float64(time.Millisecond))}
		return replica.Receive(in.State, in.Pending, in.Acknowledged, in.Base, in.Response, trip, in.Identity), nil
	}),
	"visit": with(func(in Visit) (any, error) {
		v, wanted, err := view.Of(in.ID, bodies(in.Docs), in.Zone.In(time.UnixMilli(in.Now)))
		if err != nil {
			return nil, err
		}
		return Viewed{v, append([]ledger.Ref{}, wanted...)}, nil
	}),
	"report": with(func(in Report) (any, error) {
		r, wanted, err := view.ReportOf(in.ID, bodies(in.Docs), in.Zone.In(time.UnixMilli(in.Now)), in.Wish)
		if err != nil {
			return nil, err
		}
		out := Reported{Report: r, Wanted: append([]ledger.Ref{}, wanted...)}
		if r != nil {
			if out.Digest, err = r.Digest(); err != nil {
				return nil, err
			}
			out.Code = report.Code(out.Digest)
		}
		return out, nil
	}),
	"summary": with(func(in Summary) (any, error) {
		s, digest, wanted, err := view.SummaryOf(in.ID, bodies(in.Docs), in.Zone.In(time.UnixMilli(in.Now)), in.Day)
		return Summed{s, digest, append([]ledger.Ref{}, wanted...)}, err
	}),
	"history": with(func(in History) (any, error) {
		lines, wanted, err := view.HistoryAt(in.Site, bodies(in.Docs))
		return Earlier{lines, append([]ledger.Ref{}, wanted...)}, err
	}),
	"unread": with(func(in Unread) (any, error) { return in.Talk.Unread(in.Reader), nil }),
	"dock": with(func(in Dock) (any, error) {
		clocks := view.Clocks{Now: in.Zone.In(time.UnixMilli(in.Now)), Cards: in.Cards, Sites: in.Sites}
		return view.DockOf(in.ID, in.Visit, in.Order, in.Person, clocks), nil
	}),
	"standings": with(func(in Standings) (any, error) {
		out := make([]work.Standing, len(in.Visits))
		for i, v := range in.Visits {
			out[i] = v.Visit.StandingAt(v.ID, in.Zone.In(time.UnixMilli(in.Now)), in.Cards)
		}
		return out, nil
	}),
	"days": with(func(in Days) (any, error) {
		return labor.Days(in.Zone.In(time.UnixMilli(in.Now)), in.Zone, in.Rules, in.Cards...), nil
	}),
	"route": with(func(in Route) (any, error) {
		stops, now := in.arranged()
		return plan.Route(stops, in.Order, in.Start, now, roads.Coast()), nil
	}),
	"order": with(func(in Route) (any, error) {
		stops, now := in.arranged()
		return plan.Order(stops, in.Order, in.Start, now, roads.Coast()), nil
	}),
	"coast": with(func(struct{}) (any, error) { return Coast{roads.Coast().Land, roads.Coast().Lines()}, nil }),
	"holds": with(func(in Holds) (any, error) {
		out := Held{Most: in.Policy.Holds()}
		for _, o := range in.Orders {
			out.Count += len(o.OnHold(in.Person))
		}
		return out, nil
	}),
	"message": with(func(in Message) (any, error) { return in.Template.Fill(in.Values), nil }),
	"nearby": with(func(in Nearby) (any, error) {
		return plan.Nearby(in.From, in.Quantity, in.Holders, roads.Coast()), nil
	}),
	"allot": with(func(in view.Demands) (any, error) { return in.Allot(), nil }),
	"code":  with(func(in struct{ Text string }) (any, error) { return stock.ReadCode(in.Text) }),
	"codes": with(func(in Codes) (any, error) {
		out := make([]string, len(in.Codes))
		for i, c := range in.Codes {
			if read, err := stock.ReadCode(c); err == nil {
				out[i] = read.Key
			}
		}
		return out, nil
	}),
	"quantity": with(func(in InUnit) (any, error) {
		q, err := in.Part.InUnit(in.Quantity, in.Unit)
		return Converted{q}, err
	}),
	"units": with(func(in stock.Part) (any, error) { return Units{in.Units()}, nil }),
	"judge": with(func(in view.Judge) (any, error) { return in.Of(), nil }),
	"fill":  with(func(in Fill) (any, error) { return in.fill() }),
	"begin": with(func(in Fill) (any, error) { return in.begin() }),
	"area": with(func(in area.Area) (any, error) {
		d, err := in.Square()
		return Square{d}, err
	}),
	"answer": with(func(in Answer) (any, error) {
		v, err := in.Question.Read(in.Value)
		return Answered{v}, err
	}),
	"strokes": with(func(in signoff.Strokes) (any, error) { return nil, in.CheckDrawn() }),
}

// filling is a sheet that is being filled in.
type filling struct {
	sheet  *sheet.Compiled
	visit  work.Visit
	around view.Around
	last   *sheet.Filling
	as     int
}

// fillings are the sheets that are being filled in, by their reference: a screen asks after each answer, and what it asked before
// need not be said again. They are a memory only: what they give follows from what was asked.
var fillings = struct {
	sync.Mutex
	by map[string]*filling
}{by: map[string]*filling{}}

const maxFillings = 16

func (in Fill) fill() (any, error) {
	fillings.Lock()
	defer fillings.Unlock()
	f := fillings.by[in.Ref]
	switch {
	case in.Since > 0 && (f == nil || f.as != in.Since), f == nil && len(in.Sheet) == 0:
		return Filled{}, nil
	case in.Since > 0:
		answers := maps.Clone(f.visit.Answers[in.Ref])
		if answers == nil {
			answers = map[string]sheet.Answer{}
		}
		maps.Copy(answers, in.Changed)
		f.visit.Answers = map[string]map[string]sheet.Answer{in.Ref: answers}
	default:
		if len(in.Sheet) > 0 {
			c, err := sheet.Load(in.Sheet)
			if err != nil {
				return nil, msg.New("document.unreadable", "document", in.Ref)
			}
			if len(fillings.by) >= maxFillings {
				clear(fillings.by)
			}
			f = &filling{sheet: c}
			fillings.by[in.Ref] = f
		}
		f.visit, f.around, f.last = in.Visit, in.Around, nil
	}
	f.last, f.as = view.Fill(f.sheet, f.last, f.visit, f.around), in.As
	return Filled{State: &f.last.State}, nil
}

func (in Fill) begin() (any, error) {
	c, err := sheet.Load(in.Sheet)
	if err != nil {
		return nil, msg.New("document.unreadable", "document", in.Ref)
	}
	b := view.Begin(c, in.Visit, in.Around)
	return Filled{Begin: &b}, nil
}

// Call runs a function of the core. It never panics: what goes wrong comes back as {"error": {"code": …}}.
func Call(name string, in []byte) (out []byte) {
	defer func() {
		if recover() != nil {
			out = failure(msg.New("core.broken", "call", name))
		}
	}()
	f, ok := functions[name]
	if !ok {
		return failure(msg.New("core.unknown", "call", name))
	}
	v, err := f(in)
	if err != nil {
		return failure(msg.From(err))
	}
	raw, err := json.Marshal(v)
	if err != nil {
		return failure(msg.New("core.unwritable", "call", name))
	}
	return raw
}

func failure(c *msg.Code) []byte {
	raw, _ := json.Marshal(Failure{c})
	return raw
}

func with[In any](f func(In) (any, error)) func([]byte) (any, error) {
	return func(raw []byte) (any, error) {
		var in In
		if err := json.Unmarshal(raw, &in); err != nil {
			return nil, msg.New("core.unreadable")
		}
		return f(in)
	}
}

func bodies(docs []ledger.Doc) ledger.Docs {
	out := ledger.Docs{}
	for _, d := range docs {
		if string(d.Body) == "null" {
			d.Body = nil
		}
		out[d.Ref] = d.Body
	}
	return out
}
