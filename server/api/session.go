package api

import (
	"errors"
	"math"
	"net"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

const (
	cookie     = "iter_session"
	personKey  = "person"
	deviceKey  = "iter.device"
	bodySignIn = 4 << 10
)

// SignIn is the body of a sign-in.
type SignIn struct {
	Login    string `json:"login"`
	Password string `json:"password"`
}

// Me is who is signed in.
type Me struct {
	ID      string         `json:"id"`
	Person  records.Person `json:"person"`
	Company string         `json:"company"`
	Zone    string         `json:"zone"`           // name of the company's time zone
	Demo    bool           `json:"demo,omitempty"` // the firm is made up, and so are the instruments
}

// Start is what the sign-in page needs.
type Start struct {
	Company string        `json:"company"`
	Demo    []DemoAccount `json:"demo"`
}

func (s *Server) start(c *gin.Context) {
	read(s, c, func(tx *store.Tx) (Start, error) {
		p, err := tx.Policy()
		return Start{Company: p.Company, Demo: append([]DemoAccount{}, s.Demo...)}, err
	})
}

func (s *Server) signIn(c *gin.Context) {
	var in SignIn
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, bodySignIn)
	if err := c.ShouldBindJSON(&in); err != nil {
		s.problem(c, http.StatusBadRequest, msg.New("http.body"))
		return
	}
	address, _, err := net.SplitHostPort(c.Request.RemoteAddr)
	if err != nil {
		address = c.Request.RemoteAddr
	}
	keys := []string{"login " + strings.ToLower(strings.TrimSpace(in.Login)), "address " + address}
	now := s.Now()
	for _, k := range keys {
		if wait := s.brake.Wait(k, now); wait > 0 {
			seconds := strconv.Itoa(int(math.Ceil(wait.Seconds())))
			c.Header("Retry-After", seconds)
			s.problem(c, http.StatusTooManyRequests, msg.New("signin.slow", "seconds", seconds))
			return
		}
	}
	ctx := c.Request.Context()
	person, err := accounts.Check(ctx, s.Store, in.Login, in.Password)
	if errors.Is(err, accounts.ErrWrong) {
		for _, k := range keys {
			s.brake.Failed(k, now)
		}
		s.problem(c, http.StatusUnauthorized, msg.New("signin.wrong"))
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	for _, k := range keys {
		s.brake.Worked(k)
	}
	if ctx, err = s.sessions.Load(ctx, ""); err != nil {
		s.fail(c, err)
		return
	}
	s.sessions.Put(ctx, personKey, person)
	token, expiry, err := s.sessions.Commit(ctx)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.setCookie(c, token, int(expiry.Sub(now).Seconds()))
	read(s, c, func(tx *store.Tx) (Me, error) { return s.whoIs(tx, person) })
}

func (s *Server) setCookie(c *gin.Context, token string, seconds int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: cookie, Value: token, Path: "/", MaxAge: seconds, HttpOnly: true, Secure: s.Secure, SameSite: http.SameSiteStrictMode})
}

func (s *Server) signOut(c *gin.Context) {
	if token, err := c.Cookie(cookie); err == nil {
		if ctx, err := s.sessions.Load(c.Request.Context(), token); err == nil {
			if err := s.sessions.Destroy(ctx); err != nil {
				s.fail(c, err)
				return
			}
		}
	}
	s.setCookie(c, "", -1)
	c.Status(http.StatusNoContent)
}

// signedIn lets through whoever has a session, and says who it is.
func (s *Server) signedIn(c *gin.Context) {
	token, err := c.Cookie(cookie)
	if err != nil {
		s.problem(c, http.StatusUnauthorized, msg.New("signin.needed"))
		return
	}
	ctx, err := s.sessions.Load(c.Request.Context(), token)
	if err != nil {
		s.fail(c, err)
		return
	}
	d := syncing.Device{PersonID: s.sessions.GetString(ctx, personKey), Agent: agent(c.Request.UserAgent())}
	known := false
	err = s.Store.Read(ctx, func(tx *store.Tx) (err error) {
		known, err = tx.Load("person", d.PersonID, &d.Person)
		return err
	})
	switch {
	case err != nil:
		s.fail(c, err)
	case d.PersonID == "" || !known:
		s.problem(c, http.StatusUnauthorized, msg.New("signin.needed"))
	default:
		c.Set(deviceKey, d)
	}
}

func who(c *gin.Context) syncing.Device { return c.MustGet(deviceKey).(syncing.Device) }

// has lets through whoever has one of the roles.
func (s *Server) has(roles ...records.Role) gin.HandlerFunc {
	return func(c *gin.Context) {
		if d := who(c); !d.Person.Has(roles...) {
			s.problem(c, http.StatusForbidden, msg.New("role.missing", "role", string(roles[0])))
		}
	}
}

func (s *Server) me(c *gin.Context) {
	read(s, c, func(tx *store.Tx) (Me, error) { return s.whoIs(tx, who(c).PersonID) })
}

func (s *Server) whoIs(tx *store.Tx, id string) (Me, error) {
	out := Me{ID: id, Demo: len(s.Demo) > 0}
	if _, err := tx.Load("person", id, &out.Person); err != nil {
		return out, err
	}
	p, err := tx.Policy()
	out.Company, out.Zone = p.Company, p.Zone.Name
	return out, err
}

// agent is a browser in few words.
func agent(ua string) string {
	browser, system := "Browser", ""
	for _, b := range [][2]string{{"Firefox/", "Firefox"}, {"Edg/", "Edge"}, {"Chrome/", "Chrome"}, {"Chromium/", "Chromium"}, {"Safari/", "Safari"}} {
		if strings.Contains(ua, b[0]) {
			browser = b[1]
			break
		}
	}
	for _, o := range [][2]string{{"Android", "Android"}, {"iPhone", "iPhone"}, {"iPad", "iPad"}, {"Windows", "Windows"}, {"Mac OS", "Mac"}, {"Linux", "Linux"}} {
		if strings.Contains(ua, o[0]) {
			system = ", " + o[1]
			break
		}
	}
	return browser + system
}
