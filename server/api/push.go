package api

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/daypaper"
	"iter.example/iter/server/notify"
	"iter.example/iter/server/store"
)

// PushKey is what a browser asks its push service with: the office's public key, as base64 without padding.
type PushKey struct {
	Key string `json:"key"`
}

// PushAddress is where a device is reached when its app is closed.
type PushAddress struct {
	Replica  string `json:"replica"`
	Endpoint string `json:"endpoint"`
	Auth     string `json:"auth"`
	P256dh   string `json:"p256dh"`
}

func (s *Server) pushKey(*gin.Context) (PushKey, error) { return PushKey{s.push.Key()}, nil }

// reachByPush keeps where a device is reached. What its person sees of their plan now needs no notification: they have the app open.
func (s *Server) reachByPush(c *gin.Context, in PushAddress) (Done, error) {
	me, now := who(c), s.Now()
	a := store.PushAddress{Endpoint: in.Endpoint, Person: me.PersonID, Replica: in.Replica, Auth: in.Auth, P256dh: in.P256dh}
	if err := notify.CheckAddress(a, s.PushLocal); err != nil {
		return Done{}, err
	}
	if !s.bound(c, in.Replica) {
		return Done{}, refusal{status: http.StatusForbidden, why: msg.New("signin.other_device")}
	}
	return Done{}, s.Store.Write(c.Request.Context(), func(tx *store.Tx) error {
		had, err := tx.PushAddresses(me.PersonID)
		if err != nil {
			return err
		}
		if len(had) == 0 {
			company, _, err := tx.Company(now)
			if err != nil {
				return err
			}
			if err := notify.Begin(tx, me.PersonID, me.Person, company.Zone.In(now)); err != nil {
				return err
			}
		}
		return tx.PutPushAddress(a, now)
	})
}

// unreach forgets where devices are reached: nobody is signed in on them any more.
func (s *Server) unreach(ctx context.Context, replicas []string) error {
	if len(replicas) == 0 {
		return nil
	}
	return s.Store.Write(ctx, func(tx *store.Tx) error {
		for _, r := range replicas {
			if err := tx.ForgetPushAddressOf(r); err != nil {
				return err
			}
		}
		return nil
	})
}

// DaySent is somebody's day to be sent to them. Sent twice with one ID, it goes once.
type DaySent struct {
	ID   string         `json:"id"`
	Date string         `json:"date"` // 2006-01-02
	Way  work.Elsewhere `json:"way"`  // a mail has it as PDF
}

// sendDay sends somebody their day.
func (s *Server) sendDay(c *gin.Context, in DaySent) (Done, error) {
	now := s.now(c)
	if _, err := time.Parse(time.DateOnly, in.Date); err != nil {
		return Done{}, refusal{status: http.StatusBadRequest, why: msg.New("http.date")}
	}
	if err := records.CheckID(in.ID); err != nil {
		return Done{}, err
	}
	defer s.teller.Wake()
	return Done{}, s.Store.Write(c.Request.Context(), func(tx *store.Tx) error {
		d, p, err := gatherDay(tx, c.Param("person"), in.Date, now)
		if err != nil {
			return err
		}
		switch {
		case in.Way == work.TellMail && p.Email == "":
			return msg.New("notify.email", "name", p.Name)
		case in.Way == work.TellText && p.Phone == "":
			return msg.New("notify.phone", "name", p.Name)
		case in.Way != work.TellMail && in.Way != work.TellText:
			return refusal{status: http.StatusBadRequest, why: msg.New("http.body")}
		}
		lines := []string{}
		for _, x := range d.Stops {
			lines = append(lines, notify.Line(x.Visit.Start, store.Work{Order: x.Order, Customer: x.Customer, Site: x.Site}, d.Zone, x.Visit.Start))
		}
		if len(lines) == 0 {
			lines = append(lines, "Nothing is planned.")
		}
		return tx.PutNotification(store.Notification{ID: in.ID, Person: c.Param("person"), Way: string(in.Way), Made: now,
			Title: fmt.Sprintf("Your day, %s", d.Begin.Format("Monday 2 January")), Text: strings.Join(lines, "\n"), Paper: "day/" + in.Date,
			State: "waiting"})
	})
}

// notificationPaper prints what goes with a notification.
func (s *Server) notificationPaper(ctx context.Context, person, paper string) (pdf []byte, err error) {
	what, id, _ := strings.Cut(paper, "/")
	if what == "order" {
		return s.printOrder(ctx, id, s.Now())
	}
	err = s.Store.Read(ctx, func(tx *store.Tx) error {
		d, _, err := gatherDay(tx, person, id, s.Now())
		if err == nil {
			pdf, err = daypaper.Print(d, d.Zone.In(s.Now()))
		}
		return err
	})
	return pdf, err
}
