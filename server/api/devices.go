package api

import (
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
	"iter.example/iter/server/unsent"
)

// DeviceLine is a device in the office's list.
type DeviceLine struct {
	Replica string    `json:"replica"`
	Person  string    `json:"person"` // name
	Agent   string    `json:"agent"`
	Contact time.Time `json:"contact"`
	Unsent  int       `json:"unsent"` // entries and files it still had after the last contact
	Version string    `json:"version"`
	Skew    int64     `json:"skew"`           // milliseconds by which its clock is ahead
	Ended   time.Time `json:"ended,omitzero"` // zero while it has access
	Wiped   time.Time `json:"wiped,omitzero"` // zero until it said that it holds nothing any more
}

// maxDevices is how many devices are listed: the last heard of.
const maxDevices = 500

func (s *Server) devices(c *gin.Context) ([]DeviceLine, error) {
	return read(s, c, func(tx *store.Tx) ([]DeviceLine, error) {
		all, err := tx.Devices(maxDevices)
		if err != nil {
			return nil, err
		}
		out := []DeviceLine{}
		for _, d := range all {
			name, err := tx.NameOf(d.Person)
			if err != nil {
				return nil, err
			}
			out = append(out, DeviceLine{Replica: d.Replica, Person: name, Agent: d.Agent, Contact: d.Contact, Unsent: d.Unsent,
				Version: d.Version, Skew: d.Skew.Milliseconds(), Ended: d.Ended, Wiped: d.Wiped})
		}
		return out, nil
	})
}

// endDevice ends a device's access: at its next contact it hands over what it has not sent, and wipes what it holds.
func (s *Server) endDevice(c *gin.Context) (Done, error) {
	err := s.Store.Write(c.Request.Context(), func(tx *store.Tx) error {
		d, known, err := tx.Device(c.Param("replica"))
		if err != nil {
			return err
		}
		if !known {
			return msg.New("record.unknown", "type", "device", "id", records.Clip(c.Param("replica")))
		}
		if d.Ended.IsZero() {
			d.Ended = s.Now()
		}
		return tx.PutDevice(d)
	})
	if err != nil {
		return Done{}, err
	}
	s.Log.Info("access of a device ended", "device", c.Param("replica"), "by", who(c).PersonID)
	s.live.tell(nil, devicesChanged)
	return Done{}, nil
}

// takeUnsent takes in a file of unsent work that a device saved.
func (s *Server) takeUnsent(c *gin.Context) (unsent.Report, error) {
	return unsent.Read(c.Request.Context(), s.Store, s.files, who(c).PersonID,
		http.MaxBytesReader(c.Writer, c.Request.Body, unsent.MaxSize), s.Now())
}
