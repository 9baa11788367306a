package api

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/base64"
	"encoding/gob"
	"encoding/json"
	"errors"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/store"
)

// AccountLine is a person with how they sign in and where they are signed in.
type AccountLine struct {
	Person   string         `json:"person"`
	Name     string         `json:"name"`
	Roles    []records.Role `json:"roles"`
	Sort     string         `json:"sort,omitempty"`    // of work that their time usually goes to
	Login    string         `json:"login,omitempty"`   // none: they can't sign in yet
	Disabled time.Time      `json:"disabled,omitzero"` // since when; zero while they have access
	Sessions []SessionLine  `json:"sessions"`          // the last used first
}

// SessionLine is a session: a browser in which somebody is signed in.
type SessionLine struct {
	ID      string    `json:"id"`
	Agent   string    `json:"agent"`
	Address string    `json:"address"`
	Since   time.Time `json:"since"`
	Seen    time.Time `json:"seen"`           // to some minutes
	Here    bool      `json:"here,omitempty"` // it is that of whoever asks
}

func init() { gob.Register(time.Time{}) } // sessions keep times

// openSessions lists the sessions there are, by person.
func (s *Server) openSessions(c *gin.Context) (map[string][]SessionLine, error) {
	here := s.sessions.Token(c.MustGet(sessionKey).(context.Context))
	out := map[string][]SessionLine{}
	err := s.sessions.Iterate(c.Request.Context(), func(ctx context.Context) error {
		l := SessionLine{
			ID: s.sessions.Token(ctx), Agent: s.sessions.GetString(ctx, keptAgent), Address: s.sessions.GetString(ctx, keptAddress),
			Since: s.sessions.GetTime(ctx, keptSince), Seen: s.sessions.GetTime(ctx, keptSeen),
		}
		l.Here = l.ID == kept(here)
		person := s.sessions.GetString(ctx, keptPerson)
		out[person] = append(out[person], l)
		return nil
	})
	for _, lines := range out {
		slices.SortFunc(lines, func(a, b SessionLine) int { return b.Seen.Compare(a.Seen) })
	}
	return out, err
}

func (s *Server) accounts(c *gin.Context) ([]AccountLine, error) {
	store.ReadClock(c.Request.Context()) // sessions are kept beside the store, and seen with every request
	sessions, err := s.openSessions(c)
	if err != nil {
		return nil, err
	}
	return read(s, c, func(tx *store.Tx) ([]AccountLine, error) {
		people, err := tx.Of("person")
		if err != nil {
			return nil, err
		}
		out := []AccountLine{}
		for _, d := range people {
			var p records.Person
			if err := json.Unmarshal(d.Body, &p); err != nil {
				return nil, err
			}
			a, _, err := tx.AccountOf(d.ID)
			if err != nil {
				return nil, err
			}
			out = append(out, AccountLine{Person: d.ID, Name: p.Name, Roles: p.Roles, Sort: p.Sort, Login: a.Login, Disabled: a.Disabled,
				Sessions: append([]SessionLine{}, sessions[d.ID]...)})
		}
		slices.SortStableFunc(out, func(a, b AccountLine) int { return cmp.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) })
		return out, nil
	})
}

// Access says whether a person has access.
type Access struct {
	Disabled bool `json:"disabled"`
}

// setAccess disables a person's account, or enables it again. Their devices hand over what they have at the next contact, and delete
// what they hold.
func (s *Server) setAccess(c *gin.Context, in Access) (Done, error) {
	person, now := c.Param("person"), s.Now()
	err := s.Store.Write(c.Request.Context(), func(tx *store.Tx) error {
		a, ok, err := tx.AccountOf(person)
		if err != nil {
			return err
		}
		if !ok {
			return msg.New("account.none")
		}
		if a.Disabled.IsZero() != in.Disabled {
			return nil // it is so already
		}
		if !in.Disabled {
			a.Disabled = time.Time{}
			a.Epoch++ // what was signed in then is over
			return tx.PutAccount(a)
		}
		if person == who(c).PersonID {
			return msg.New("account.own")
		}
		a.Disabled = now
		devices, err := tx.DevicesOf(person)
		if err != nil {
			return err
		}
		for _, d := range devices {
			if d.Ended.IsZero() {
				d.Ended = now
				if err := tx.PutDevice(d); err != nil {
					return err
				}
			}
		}
		return tx.PutAccount(a)
	})
	if err != nil {
		return Done{}, err
	}
	s.Log.Info("access set", "person", person, "disabled", in.Disabled, "by", who(c).PersonID)
	s.live.end(person)
	s.live.tell(nil, devicesChanged)
	return Done{}, nil
}

// NewLogin is the body of giving somebody a new first password, and a login when they have none.
type NewLogin struct {
	Login string `json:"login,omitempty"`
}

// FirstPassword is a password to hand on. It is shown once.
type FirstPassword struct {
	Login    string `json:"login"`
	Password string `json:"password"`
}

// newPassword gives a person a new password to begin with, and ends their sessions.
func (s *Server) newPassword(c *gin.Context, in NewLogin) (FirstPassword, error) {
	ctx, person := c.Request.Context(), c.Param("person")
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		if known, err := tx.Load("person", person, new(records.Person)); err != nil {
			return err
		} else if !known {
			return msg.New("record.unknown", "type", "person", "id", records.Clip(person))
		}
		a, has, err := tx.AccountOf(person)
		if has && strings.TrimSpace(in.Login) == "" {
			in.Login = a.Login
		}
		return err
	})
	out := FirstPassword{Login: strings.ToLower(strings.TrimSpace(in.Login)), Password: accounts.FirstPassword()}
	if err == nil {
		err = accounts.Set(ctx, s.Store, in.Login, person, out.Password)
	}
	if errors.Is(err, accounts.ErrBusy) {
		return FirstPassword{}, slow(time.Second, "signin.busy")
	}
	if err != nil {
		return FirstPassword{}, err
	}
	s.Log.Info("new password given", "person", person, "by", who(c).PersonID)
	s.live.end(person)
	return out, nil
}

// endSession ends one session: whoever is signed in there must sign in again.
func (s *Server) endSession(c *gin.Context) (Done, error) {
	id := c.Param("id")
	open, err := s.openSessions(c)
	if err == nil {
		err = s.Store.Write(c.Request.Context(), func(tx *store.Tx) error { return tx.EndSession(id) })
	}
	if err != nil {
		return Done{}, err
	}
	for person, lines := range open {
		if slices.ContainsFunc(lines, func(l SessionLine) bool { return l.ID == id }) {
			s.live.end(person)
		}
	}
	return Done{}, nil
}

// kept is the token of a session as it is stored: as its hash, so that who reads the database can't take one over.
func kept(token string) string {
	sum := sha256.Sum256([]byte(token))
	return base64.RawURLEncoding.EncodeToString(sum[:])
}
