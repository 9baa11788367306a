package api

import (
	"context"
	"errors"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

const (
	cookie        = "iter_session"
	browserCookie = "iter_browser"
	deviceKey     = "iter.device"
	sessionKey    = "iter.session"
	bodySignIn    = 4 << 10
	// browserLife is how long a browser is known in which somebody signed in.
	browserLife = 400 * 24 * time.Hour
	// seenEvery is how often it is noted that a session was used.
	seenEvery = 10 * time.Minute
)

// The names under which a session keeps what it knows.
const (
	keptPerson   = "person"
	keptEpoch    = "epoch"    // of the account, when it was signed in to
	keptReplicas = "replicas" // the devices that synced under it, by identity, separated by spaces
	keptRenew    = "renew"    // whether the device was told to take a new identity
	keptSince    = "since"
	keptSeen     = "seen"
	keptAgent    = "agent"
	keptAddress  = "address"
)

// SignIn is the body of a sign-in.
type SignIn struct {
	Login    string `json:"login"`
	Password string `json:"password"`
}

func (*SignIn) limit() int64 { return bodySignIn }

// Me is who is signed in.
type Me struct {
	ID      string         `json:"id"`
	Person  records.Person `json:"person"`
	Company string         `json:"company"`
	Zone    string         `json:"zone"`           // name of the company's time zone
	Demo    bool           `json:"demo,omitempty"` // the firm is made up, and so are the instruments
	May     []ledger.Right `json:"may"`            // at the office
}

// Start is what the sign-in page needs.
type Start struct {
	Company string        `json:"company"`
	Demo    []DemoAccount `json:"demo"`
}

func (s *Server) start(c *gin.Context) (Start, error) {
	return read(s, c, func(tx *store.Tx) (Start, error) {
		company, _, err := tx.Company(s.Now())
		return Start{Company: company.Name, Demo: append([]DemoAccount{}, s.Demo...)}, err
	})
}

func (s *Server) signIn(c *gin.Context, in SignIn) (Me, error) {
	ctx, now := c.Request.Context(), s.Now()
	mark, _ := c.Cookie(browserCookie)
	keys, err := s.brakeKeys(c, in.Login, mark)
	if err != nil {
		return Me{}, err
	}
	if wait := s.brake.Try(now, keys...); wait > 0 {
		return Me{}, slow(wait, "signin.slow")
	}
	account, err := accounts.Check(ctx, s.Store, in.Login, in.Password, mark)
	switch {
	case errors.Is(err, accounts.ErrWrong):
		return Me{}, refusal{status: http.StatusUnauthorized, why: msg.New("signin.wrong")}
	case errors.Is(err, accounts.ErrDisabled):
		s.brake.Worked(keys...)
		return Me{}, refusal{status: http.StatusForbidden, why: msg.New("signin.disabled")}
	case errors.Is(err, accounts.ErrBusy):
		s.brake.Worked(keys...) // nobody looked at it
		return Me{}, slow(time.Second, "signin.busy")
	case err != nil:
		return Me{}, err
	}
	s.brake.Worked(keys...)
	if err := s.openSession(c, account, mark); err != nil {
		return Me{}, err
	}
	return read(s, c, func(tx *store.Tx) (Me, error) { return s.whoIs(tx, account.Person) })
}

// brakeKeys are what tries to sign in are counted under: the login and the address; in a browser in which this person has signed in
// before, the browser alone, so that nobody elsewhere locks them out of it.
func (s *Server) brakeKeys(c *gin.Context, login, mark string) ([]string, error) {
	login = strings.ToLower(strings.TrimSpace(login))
	before := false
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) error {
		a, _, err := tx.Account(login)
		if err != nil {
			return err
		}
		before, err = accounts.KnownBrowser(tx, mark, a.Person)
		return err
	})
	if before {
		return []string{"browser " + mark}, err
	}
	return []string{"login " + login, "address " + c.ClientIP()}, err
}

// slow says that somebody is to try again later.
func slow(wait time.Duration, code string) error {
	seconds := strconv.Itoa(int(math.Ceil(wait.Seconds())))
	return refusal{status: http.StatusTooManyRequests, why: msg.New(code, "seconds", seconds), after: wait}
}

// openSession signs somebody in, and marks their browser as one that they know.
func (s *Server) openSession(c *gin.Context, a store.Account, mark string) error {
	ctx, now := c.Request.Context(), s.Now()
	known := false
	err := s.Store.Read(ctx, func(tx *store.Tx) (err error) {
		if known, err = accounts.KnownBrowser(tx, mark, a.Person); !known && err == nil {
			mark, err = accounts.BrowserMark(tx, a.Person)
		}
		return err
	})
	if err != nil {
		return err
	}
	if ctx, err = s.sessions.Load(ctx, ""); err != nil {
		return err
	}
	for k, v := range map[string]any{keptPerson: a.Person, keptEpoch: a.Epoch, keptSince: now, keptSeen: now,
		keptAgent: agent(c.Request.UserAgent()), keptAddress: c.ClientIP()} {
		s.sessions.Put(ctx, k, v)
	}
	if err := s.keepSession(c, ctx); err != nil {
		return err
	}
	s.setCookie(c, browserCookie, mark, int(browserLife.Seconds()))
	return nil
}

// keepSession writes a session, and gives the browser its token.
func (s *Server) keepSession(c *gin.Context, ctx context.Context) error {
	token, expiry, err := s.sessions.Commit(ctx)
	if err == nil {
		s.setCookie(c, cookie, token, int(expiry.Sub(s.Now()).Seconds()))
	}
	return err
}

func (s *Server) setCookie(c *gin.Context, name, value string, seconds int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: name, Value: value, Path: "/", MaxAge: seconds, HttpOnly: true, Secure: s.Secure,
		SameSite: http.SameSiteStrictMode})
}

func (s *Server) signOut(c *gin.Context) (Done, error) {
	if token, err := c.Cookie(cookie); err == nil {
		if ctx, err := s.sessions.Load(c.Request.Context(), token); err == nil {
			if err := s.unreach(c.Request.Context(), replicasOf(s.sessions, ctx)); err != nil {
				s.Log.Warn("a device that signs out may still be notified", "error", err) // it signs out all the same
			}
			if err := s.sessions.Destroy(ctx); err != nil {
				return Done{}, err
			}
		}
	}
	s.setCookie(c, cookie, "", -1)
	return Done{}, nil
}

// signedIn lets through whoever has a session, and says who it is.
func (s *Server) signedIn(c *gin.Context) {
	if s.session(c); !c.IsAborted() && who(c).Ended {
		s.problem(c, http.StatusUnauthorized, msg.New("signin.ended"))
	}
}

// session finds who has a session. One whose device or account has no access any more may hand over what it has, and is told nothing
// (Device.Ended). One of before a change of password is over.
func (s *Server) session(c *gin.Context) {
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
	d := syncing.Device{PersonID: s.sessions.GetString(ctx, keptPerson), Agent: agent(c.Request.UserAgent())}
	known, over := false, false
	err = s.Store.Read(ctx, func(tx *store.Tx) error {
		if known, err = tx.Load("person", d.PersonID, &d.Person); err != nil || !known {
			return err
		}
		a, _, err := tx.AccountOf(d.PersonID)
		if err != nil {
			return err
		}
		over = s.sessions.GetInt64(ctx, keptEpoch) != a.Epoch
		d.Ended, err = tx.AnyEnded(replicasOf(s.sessions, ctx))
		d.Ended = d.Ended || !a.Disabled.IsZero()
		return err
	})
	switch {
	case err != nil:
		s.fail(c, err)
	case d.PersonID == "" || !known || over:
		s.problem(c, http.StatusUnauthorized, msg.New("signin.needed"))
	default:
		c.Set(deviceKey, d)
		c.Set(sessionKey, ctx)
		if now := s.Now(); now.Sub(s.sessions.GetTime(ctx, keptSeen)) > seenEvery {
			s.sessions.Put(ctx, keptSeen, now)
			if err := s.keepSession(c, ctx); err != nil {
				s.fail(c, err)
			}
		}
	}
}

func replicasOf(m *scs.SessionManager, ctx context.Context) []string {
	return strings.Fields(m.GetString(ctx, keptReplicas))
}

// bound tells whether a device may sync under the session: a session is of one device, which takes a new identity only when it was
// told to.
func (s *Server) bound(c *gin.Context, replica string) bool {
	ctx := c.MustGet(sessionKey).(context.Context)
	known := replicasOf(s.sessions, ctx)
	return slices.Contains(known, replica) || (!who(c).Ended && (len(known) == 0 || s.sessions.GetBool(ctx, keptRenew)))
}

// bind notes that a device synced under the session, or that it was told to take a new identity.
func (s *Server) bind(c *gin.Context, replica string, renew bool) error {
	ctx := c.MustGet(sessionKey).(context.Context)
	known := replicasOf(s.sessions, ctx)
	switch {
	case renew && slices.Contains(known, replica) && !s.sessions.GetBool(ctx, keptRenew):
		s.sessions.Put(ctx, keptRenew, true)
	case !renew && !slices.Contains(known, replica):
		s.sessions.Put(ctx, keptReplicas, strings.Join(append(known, replica), " "))
		s.sessions.Put(ctx, keptRenew, false)
	default:
		return nil
	}
	return s.keepSession(c, ctx)
}

func who(c *gin.Context) syncing.Device { return c.MustGet(deviceKey).(syncing.Device) }

// has lets through whoever has one of the roles.
func (s *Server) has(roles ...records.Role) gin.HandlerFunc {
	return func(c *gin.Context) {
		if d := who(c); !d.Person.Has(roles...) {
			s.problem(c, http.StatusForbidden, office.ErrRole(roles))
		}
	}
}

// NewPassword is the body of a change of one's own password.
type NewPassword struct {
	Old string `json:"old"`
	New string `json:"new"`
}

func (*NewPassword) limit() int64 { return bodySignIn }

// changePassword changes the password of whoever is signed in, and ends their sessions but this one.
func (s *Server) changePassword(c *gin.Context, in NewPassword) (Done, error) {
	ctx, d := c.Request.Context(), who(c)
	key := "password " + d.PersonID
	if wait := s.brake.Try(s.Now(), key); wait > 0 {
		return Done{}, slow(wait, "signin.slow")
	}
	var a store.Account
	if err := s.Store.Read(ctx, func(tx *store.Tx) (err error) { a, _, err = tx.AccountOf(d.PersonID); return err }); err != nil {
		return Done{}, err
	}
	mark, _ := c.Cookie(browserCookie)
	_, err := accounts.Check(ctx, s.Store, a.Login, in.Old, mark)
	if err == nil {
		s.brake.Worked(key)
		err = accounts.Set(ctx, s.Store, a.Login, d.PersonID, in.New)
	}
	switch {
	case errors.Is(err, accounts.ErrWrong):
		return Done{}, refusal{status: http.StatusForbidden, why: msg.New("password.wrong")}
	case errors.Is(err, accounts.ErrBusy):
		return Done{}, slow(time.Second, "signin.busy")
	case err != nil:
		return Done{}, err
	}
	session := c.MustGet(sessionKey).(context.Context)
	s.sessions.Put(session, keptEpoch, a.Epoch+1)
	if err := s.sessions.RenewToken(session); err != nil {
		return Done{}, err
	}
	if err := s.keepSession(c, session); err != nil {
		return Done{}, err
	}
	s.Log.Info("password changed", "person", d.PersonID)
	s.live.end(d.PersonID)
	return Done{}, nil
}

func (s *Server) me(c *gin.Context) (Me, error) {
	return read(s, c, func(tx *store.Tx) (Me, error) { return s.whoIs(tx, who(c).PersonID) })
}

func (s *Server) whoIs(tx *store.Tx, id string) (Me, error) {
	out := Me{ID: id, Demo: len(s.Demo) > 0}
	if _, err := tx.Load("person", id, &out.Person); err != nil {
		return out, err
	}
	out.May = ledger.RightsOf(out.Person)
	company, _, err := tx.Company(s.Now())
	out.Company, out.Zone = company.Name, company.Zone.Name
	return out, err
}

// agent is a browser in few words.
func agent(ua string) string {
	browser, system := "Browser", ""
	for _, b := range [][2]string{{"Firefox/", "Firefox"}, {"Edg/", "Edge"}, {"Chrome/", "Chrome"}, {"Chromium/", "Chromium"},
		{"Safari/", "Safari"}} {
		if strings.Contains(ua, b[0]) {
			browser = b[1]
			break
		}
	}
	for _, o := range [][2]string{{"Android", "Android"}, {"iPhone", "iPhone"}, {"iPad", "iPad"}, {"Windows", "Windows"},
		{"Mac OS", "Mac"}, {"Linux", "Linux"}} {
		if strings.Contains(ua, o[0]) {
			system = ", " + o[1]
			break
		}
	}
	return browser + system
}
