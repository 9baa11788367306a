package api

import (
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Timeline is what was said about the work for a customer, at a site or on a machine, among ourselves and to them.
type Timeline struct {
	Lines []TimelineLine `json:"lines"` // the latest first
	// More is how many work orders, the earliest, are not looked through.
	More int `json:"more"`
}

// TimelineLine is something that was said in a conversation about a work order, or told or sent to the customer.
type TimelineLine struct {
	Entry  string    `json:"entry"`
	At     time.Time `json:"at"`
	By     string    `json:"by"`     // name
	Order  string    `json:"order"`  // id
	Number string    `json:"number"` // of the order
	Site   string    `json:"site"`   // name
	Text   string    `json:"text"`
	// To is whom it was told or sent to; "" of what was said among ourselves. State is waiting, sent or late, Report the entry of the
	// report that went along.
	To     string `json:"to,omitempty"`
	State  string `json:"state,omitempty"`
	Report string `json:"report,omitempty"`
}

// timelineOrders is how many work orders are looked through, the latest first.
const timelineOrders = 60

func (s *Server) timeline(c *gin.Context) (*Timeline, error) {
	ref := ledger.Ref{Type: c.Param("type"), ID: c.Param("id")}
	return read(s, c, func(tx *store.Tx) (*Timeline, error) {
		if err := workIsAbout(tx, ref); err != nil {
			return nil, err
		}
		orders, err := tx.OrdersAbout(ref)
		if err != nil {
			return nil, err
		}
		out := &Timeline{Lines: []TimelineLine{}, More: max(len(orders)-timelineOrders, 0)}
		for _, o := range orders[:len(orders)-out.More] {
			if err := out.add(tx, o.ID); err != nil {
				return nil, err
			}
		}
		slices.SortStableFunc(out.Lines, func(a, b TimelineLine) int { return b.At.Compare(a.At) })
		return out, nil
	})
}

// add adds what was said about a work order.
func (l *Timeline) add(tx *store.Tx, order string) error {
	w, err := tx.Work(order)
	if err != nil {
		return err
	}
	line := func(entry, person string, at time.Time, text string) (TimelineLine, error) {
		by, err := tx.NameOf(person)
		return TimelineLine{Entry: entry, At: at, By: by, Order: order, Number: w.Order.Number, Site: w.Site.Name, Text: text}, err
	}
	var said talk.Talk
	if _, err := tx.Load("talk", order, &said); err != nil {
		return err
	}
	for _, x := range said.Said {
		one, err := line(x.Entry, x.Person, x.At, x.Text)
		if err != nil {
			return err
		}
		l.Lines = append(l.Lines, one)
	}
	sent := func(about ledger.Ref, messages []work.Message) error {
		if len(messages) == 0 {
			return nil
		}
		states, err := tx.MessageStates(about)
		if err != nil {
			return err
		}
		for _, m := range messages {
			one, err := line(m.Entry, m.Person, m.At, m.Text)
			if err != nil {
				return err
			}
			one.To, one.State, one.Report = m.To, states[m.Entry], m.Report
			l.Lines = append(l.Lines, one)
		}
		return nil
	}
	for _, visit := range w.Order.Visits {
		var v work.Visit
		if _, err := tx.Load("visit", visit, &v); err != nil {
			return err
		}
		if err := sent(ledger.Ref{Type: "visit", ID: visit}, v.Messages); err != nil {
			return err
		}
	}
	return sent(ledger.Ref{Type: "workorder", ID: order}, w.Order.Messages)
}
