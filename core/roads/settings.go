package roads

import (
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Settings are a company's rules of the road.
type Settings struct {
	Yard *records.Point `json:"yard,omitempty"` // where vans are, and days begin for whom it is not at home
	Busy []Busy         `json:"busy,omitempty"` // when roads are not free
}

// Check says what is wrong with rules of the road: nothing can be.
func (s Settings) Check() error { return nil }

// CheckRules says where a yard can't be on earth, and which hours are none.
func (s Settings) CheckRules() error {
	if len(s.Busy) > mostBusy {
		return msg.New("roads.hours")
	}
	for _, b := range s.Busy {
		if err := b.check(); err != nil {
			return err
		}
	}
	if s.Yard == nil {
		return nil
	}
	return s.Yard.CheckNew()
}
