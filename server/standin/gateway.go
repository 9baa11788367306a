// Package standin holds small simulated outside services, each behind the interface that a real one would meet: a gateway for
// messages to customers, and accounting. The roads of the scenario's coast are in core/roads, since devices use them offline.
package standin

import (
	"context"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Gateway sends messages. Sending one twice, by its entry, sends it once.
type Gateway interface {
	Send(ctx context.Context, m Message) error
}

// Message is one to a customer.
type Message struct {
	Entry string     `json:"entry"`
	About ledger.Ref `json:"about"` // a visit, or a work order, which then goes with it
	To    string     `json:"to"`
	Text  string     `json:"text"`
	At    time.Time  `json:"at"` // when it was sent
	// Report is the entry of the service report that goes with it, and Paper what goes with it as PDF.
	Report string `json:"report,omitempty"`
	Paper  []byte `json:"-"`
}

// SimulatedGateway keeps what it was given to send, for people to look at.
type SimulatedGateway struct{ Store *store.Store }

// Send keeps the message.
func (g SimulatedGateway) Send(ctx context.Context, m Message) error {
	return g.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.KeepSent(store.Sent{Entry: m.Entry, About: m.About, To: m.To, Text: m.Text, At: m.At, Report: m.Report,
			Bytes: len(m.Paper)})
	})
}

// stale is how long after the moment it speaks of a message still makes sense.
const stale = 10 * time.Minute

// tooOld is how old a message without such a moment may be.
const tooOld = 12 * time.Hour

// Deliver sends the messages that wait. One that speaks of an arrival that is over by now, since the device had no signal, is
// not sent, and marked as late. One with a paper waits until paper has it: nil without an error says that photos are still on their
// way. It gives how many were sent.
func Deliver(ctx context.Context, s *store.Store, g Gateway, paper func(Message) ([]byte, error), now time.Time) (sent int, err error) {
	type one struct {
		store.Waiting
		m *work.Message
	}
	var waiting []one
	err = s.Read(ctx, func(tx *store.Tx) error {
		list, err := tx.MessagesWaiting()
		if err != nil {
			return err
		}
		for _, w := range list {
			var about struct{ Messages []work.Message }
			if _, err := tx.Load(w.About.Type, w.About.ID, &about); err != nil {
				return err
			}
			o := one{Waiting: w}
			for i := range about.Messages {
				if about.Messages[i].Entry == w.Entry {
					o.m = &about.Messages[i]
				}
			}
			waiting = append(waiting, o)
		}
		return nil
	})
	if err != nil {
		return 0, err
	}
	for _, o := range waiting {
		state := "late"
		order := o.About.Type == "workorder"
		if o.m != nil && (order || fresh(*o.m, now)) {
			m := Message{Entry: o.Entry, About: o.About, To: o.m.To, Text: o.m.Text, At: now, Report: o.m.Report}
			if order || m.Report != "" {
				if m.Paper, err = paper(m); err != nil {
					return sent, err
				}
				if m.Paper == nil {
					continue
				}
			}
			if err := g.Send(ctx, m); err != nil {
				return sent, err // it waits, and is tried again
			}
			state = "sent"
			sent++
		}
		if err := s.Write(ctx, func(tx *store.Tx) error { return tx.SettleMessage(o.Entry, state, now) }); err != nil {
			return sent, err
		}
	}
	return sent, nil
}

func fresh(m work.Message, now time.Time) bool {
	if m.Report != "" {
		return true // a report is never too late
	}
	if m.Expected.IsZero() {
		return now.Sub(m.At) < tooOld
	}
	return now.Before(m.Expected.Add(stale))
}
