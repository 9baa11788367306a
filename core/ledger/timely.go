package ledger

import (
	"time"

	"iter.example/iter/core/msg"
)

// How far an entry's time may lie from its arrival. A device corrects its clock at each contact, so a time ahead means a
// clock that was changed since; a time long past, a device that was lost or restored.
const (
	ahead    = 5 * time.Minute
	farAhead = 12 * time.Hour
	farPast  = 45 * 24 * time.Hour
)

// Timely judges an entry's time against when it arrived. hold says why it must wait for a person; flag, what a person
// should look at although it was taken.
func Timely(at, arrived time.Time) (hold, flag *msg.Code) {
	switch d := at.Sub(arrived); {
	case d > farAhead:
		return msg.New("time.ahead", "at", at.Format(time.RFC3339)), nil
	case d < -farPast:
		return msg.New("time.past", "at", at.Format(time.RFC3339)), nil
	case d > ahead:
		return nil, msg.New("time.ahead", "at", at.Format(time.RFC3339))
	}
	return nil, nil
}
