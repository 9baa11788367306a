package api

import (
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/work"
)

// PromiseAsked says of what work it is asked by when it is promised.
type PromiseAsked struct {
	Priority work.Priority `form:"priority" json:"priority"`
	Work     string        `form:"work" json:"work,omitempty"` // kind of work
}

// PromiseAnswer is by when work is promised that comes in now; nothing where no rule says it.
type PromiseAnswer struct {
	By time.Time `json:"by,omitzero"`
}

// promise tells what the company's rules promise of work that comes in now.
func (s *Server) promise(c *gin.Context, q PromiseAsked) (*PromiseAnswer, error) {
	rules, err := s.settings(c)
	if err != nil {
		return nil, err
	}
	rest := rules.Pay.RestDays
	if len(rest) == 0 {
		rest = []int{int(time.Saturday), int(time.Sunday)}
	}
	free := func(date string) bool {
		d, err := time.Parse(time.DateOnly, date)
		return err == nil && slices.Contains(rest, int(d.Weekday())) || slices.Contains(rules.Pay.Holidays, date)
	}
	by, _ := rules.Orders.Promise(q.Priority, q.Work, rules.Company.Zone.In(s.now(c)), free)
	return &PromiseAnswer{By: by}, nil
}
