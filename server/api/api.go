// Package api is the program over HTTP: routes, sessions, roles, errors and live events.
package api

import (
	"cmp"
	"context"
	"crypto/rand"
	"io/fs"
	"log/slog"
	"net/http"
	"path/filepath"
	"strconv"
	"sync"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/addresses"
	"iter.example/iter/server/files"
	"iter.example/iter/server/hours"
	"iter.example/iter/server/notify"
	"iter.example/iter/server/offers"
	"iter.example/iter/server/region"
	"iter.example/iter/server/reports"
	"iter.example/iter/server/signals"
	"iter.example/iter/server/standin"
	"iter.example/iter/server/store"
	"iter.example/iter/server/tiles"
	"iter.example/iter/server/upkeep"
	"iter.example/iter/server/ways"
)

// Config is what the server is made of. Now and Log may be left out.
type Config struct {
	Store  *store.Store
	Assets fs.FS         // the built front end, with .br and .gz beside each file
	Demo   []DemoAccount // offered on the sign-in page; none outside demo mode
	Secure bool          // cookies only over TLS
	// Version is which program this is, for whoever runs it.
	Version string
	// Proxies are the addresses or networks (CIDR) of proxies whose word for a browser's address is taken.
	Proxies []string
	// Gateway, Accounting and Supplier are services elsewhere; simulated ones when left out.
	Gateway    standin.Gateway
	Accounting standin.Accounting
	Supplier   standin.Supplier
	// RoadServer is asked for ways in place of the roads in the data directory; nil for those.
	RoadServer *ways.Remote
	// PushContact is a mail address or an https page where the makers of browsers reach whoever runs this, and PushLocal lets push
	// services be within the own network, as those of tests are.
	PushContact string
	PushLocal   bool
	// Quiet is for how long somebody's plan must not change before they are notified; a minute when left out.
	Quiet time.Duration
	Now   func() time.Time
	Log   *slog.Logger
}

// DemoAccount is an account anybody may try.
type DemoAccount struct {
	Login    string         `json:"login"`
	Password string         `json:"password"`
	Name     string         `json:"name"`
	Roles    []records.Role `json:"roles"`
}

// Server answers requests.
type Server struct {
	Config
	sessions      *scs.SessionManager
	stop          func()
	brake         accounts.Brake
	push          *notify.WebPush
	teller        *notify.Teller
	opener        *upkeep.Opener
	solvings      solvings
	taker         *signals.Taker
	ahead         string // the last day that was planned ahead by itself
	live          hub
	announcements announcements
	lines         remembered[FinishedLine] // of finished visits, by visit and day
	worked        remembered[[]hours.Day]  // days of people, by person and range
	gathered      remembered[*dayPlan]     // coming days, by date
	files         *files.Dir
	roads         *ways.Roads
	tiles         *region.Current[*tiles.Archive]
	book          *region.Current[*addresses.Book]
	uploads       http.Handler
	printer       reports.Printer
	metrics       metrics
	handler       http.Handler
	routes        gin.RoutesInfo
	figures       http.Handler
	posting       sync.Mutex
	done          chan struct{}  // closed with the server
	end           func()         // ends the work in the background
	work          sync.WaitGroup // in the background
	fresh         chan struct{}  // told when there may be a message to send
}

type metrics struct {
	entries  *prometheus.CounterVec
	requests *prometheus.HistogramVec
}

// New makes a server. Close ends its background work.
func New(c Config) (*Server, error) {
	if c.Now == nil {
		c.Now = time.Now
	}
	if c.Log == nil {
		c.Log = slog.New(slog.DiscardHandler)
	}
	if c.Gateway == nil {
		c.Gateway = standin.SimulatedGateway{Store: c.Store}
	}
	if c.Accounting == nil {
		c.Accounting = standin.SimulatedAccounting{Store: c.Store, Now: c.Now}
	}
	if c.Supplier == nil {
		c.Supplier = standin.SimulatedSupplier{Store: c.Store, Now: c.Now}
	}
	dir := filepath.Dir(c.Store.Path())
	s := &Server{Config: c, roads: ways.Open(dir, c.RoadServer), tiles: region.NewCurrent(dir, store.MapFile, tiles.Open),
		book: region.NewCurrent(dir, store.AddressesFile, addresses.Open), done: make(chan struct{}), fresh: make(chan struct{}, 1)}
	s.announcements.fresh = make(chan struct{}, 1)
	var err error
	if s.files, err = files.Open(c.Store); err != nil {
		return nil, err
	}
	s.printer = reports.Printer{Store: c.Store, Files: s.files}
	if err := s.files.Sweep(c.Now()); err != nil {
		c.Log.Warn("pieces of files that never came whole were not thrown away", "error", err)
	}
	came := func(store.File) { s.wake(); s.live.tell(nil, News{Changed: []string{"files"}}) }
	if s.uploads, err = s.files.Upload(c.Store, c.Now, came); err != nil {
		return nil, err
	}
	if err := s.readyToNotify(); err != nil {
		return nil, err
	}
	sessions := sqlite3store.NewWithCleanupInterval(c.Store.Sessions(), 10*time.Minute)
	s.stop = sessions.StopCleanup
	s.sessions = scs.New()
	s.sessions.Store = sessions
	s.sessions.Lifetime = 60 * 24 * time.Hour
	s.sessions.HashTokenInStore = true

	reg := prometheus.NewRegistry()
	s.metrics.entries = prometheus.NewCounterVec(prometheus.CounterOpts{Name: "iter_entries_total",
		Help: "Entries that arrived, by verdict."}, []string{"verdict"})
	s.metrics.requests = prometheus.NewHistogramVec(prometheus.HistogramOpts{Name: "iter_request_seconds",
		Help: "Time to answer, by route and status."}, []string{"route", "status"})
	reg.MustRegister(s.metrics.entries, s.metrics.requests,
		prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: "iter_live_listeners", Help: "Browsers listening for events."},
			func() float64 { return float64(s.live.count()) }))

	s.figures = promhttp.HandlerFor(reg, promhttp.HandlerOpts{})

	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.HandleMethodNotAllowed = true
	if err := r.SetTrustedProxies(c.Proxies); err != nil { // without any, an address is that of the connection
		s.stop()
		return nil, err
	}
	r.Use(s.observe, s.recover, patient)
	r.GET("/healthz", s.health)

	for _, row := range routes {
		r.Handle(row.Method, row.Path, append(append([]gin.HandlerFunc{noStore}, row.who(s)...), row.handle(s))...)
	}

	static, err := newStatic(c.Assets)
	if err != nil {
		s.stop()
		return nil, err
	}
	r.NoRoute(func(c *gin.Context) {
		if len(c.Request.URL.Path) >= 5 && c.Request.URL.Path[:5] == "/api/" {
			s.problem(c, http.StatusNotFound, msg.New("http.not_found"))
			return
		}
		static.serve(c)
	})
	r.NoMethod(func(c *gin.Context) { s.problem(c, http.StatusMethodNotAllowed, msg.New("http.method")) })

	s.routes = r.Routes()

	// Requests that change something must come from our own pages.
	csrf := http.NewCrossOriginProtection()
	csrf.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		writeProblem(w, http.StatusForbidden, problemOf(http.StatusForbidden, msg.New("http.cross_origin")))
	}))
	s.handler = csrf.Handler(r)
	remembers := []func(store.Changed){s.lines.heard, s.worked.heard, s.gathered.heard}
	for _, heard := range remembers { // before whoever asks again is told
		c.Store.Watch(heard)
	}
	c.Store.Watch(s.announce)
	c.Store.Watch(s.teller.Heard)
	if s.taker, err = signals.New(context.Background(), c.Store, c.Now, c.Log); err != nil {
		return nil, err
	}
	c.Store.Watch(s.taker.Heard)
	s.opener = upkeep.NewOpener(c.Store, c.Now, c.Log)
	c.Store.Watch(s.opener.Heard)
	if err := c.Store.Read(context.Background(), func(tx *store.Tx) error {
		seq, err := tx.Seq()
		for _, heard := range remembers {
			heard(store.Changed{Seq: seq})
		}
		return err
	}); err != nil {
		return nil, err
	}
	ctx, end := context.WithCancel(context.Background())
	s.end = end
	s.work.Go(func() { s.deliver(ctx) })
	s.work.Go(func() { s.tellAll(ctx) })
	s.work.Go(func() { s.teller.Run(ctx) })
	s.work.Go(func() { s.opener.Run(ctx) })
	s.solvings = solvings{ctx: ctx, of: map[string]*solver{}, work: &s.work}
	s.work.Go(func() { s.timetable(ctx) })
	s.work.Go(func() { s.taker.Run(ctx) })
	s.work.Go(func() { offers.Returner{Store: c.Store, Now: c.Now, Log: c.Log}.Run(ctx) })
	return s, nil
}

// readyToNotify makes what tells technicians what is new.
func (s *Server) readyToNotify() error {
	var key []byte
	err := s.Store.Read(context.Background(), func(tx *store.Tx) (err error) {
		key, err = tx.Secret("push")
		return err
	})
	if err == nil {
		s.push, err = notify.NewWebPush(key, cmp.Or(s.PushContact, defaultContact), s.PushLocal)
	}
	s.teller = notify.New(notify.Config{Store: s.Store, Push: s.push, Gateway: s.Gateway, Paper: s.notificationPaper, Now: s.Now, Log: s.Log,
		Quiet: cmp.Or(s.Quiet, time.Minute)})
	return err
}

// defaultContact is who sends, where nobody has said.
const defaultContact = "postmaster@localhost"

func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.handler.ServeHTTP(w, r) }

// Routes lists the routes there are, for tests that ask each.
func (s *Server) Routes() gin.RoutesInfo { return s.routes }

// Metrics gives the figures of the server for Prometheus. They are not among its routes: whoever runs it says who may see them.
func (s *Server) Metrics() http.Handler { return s.figures }

// Close ends live events, the sessions' housekeeping and the work in the background: afterwards nothing is read or written.
func (s *Server) Close() {
	close(s.done)
	s.end()
	s.live.close()
	s.stop()
	s.work.Wait()
	if err := s.taker.Close(); err != nil {
		s.Log.Warn("signals were not closed", "error", err)
	}
}

// Signals is what takes what machines report.
func (s *Server) Signals() *signals.Taker { return s.taker }

func (s *Server) recover(c *gin.Context) {
	defer func() {
		if p := recover(); p != nil {
			s.Log.Error("panic", "route", c.FullPath(), "panic", p)
			if !c.Writer.Written() {
				s.problem(c, http.StatusInternalServerError, msg.New("server.failed"))
			}
			c.Abort()
		}
	}()
	c.Next()
}

func (s *Server) observe(c *gin.Context) {
	began := time.Now()
	h := c.Writer.Header()
	h.Set("X-Content-Type-Options", "nosniff")
	if s.Secure {
		h.Set("Strict-Transport-Security", "max-age=31536000; includeSubDomains")
	}
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Permissions-Policy", "geolocation=(self), camera=(self), microphone=()")
	c.Next()
	route := c.FullPath()
	if route == "" {
		route = "static"
	}
	status := http.StatusText(c.Writer.Status())
	s.metrics.requests.WithLabelValues(route, status).Observe(time.Since(began).Seconds())
	s.Log.Debug("request", "method", c.Request.Method, "route", route, "status", c.Writer.Status(), "took", time.Since(began))
}

func (s *Server) health(c *gin.Context) {
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) error { _, err := tx.Seq(); return err })
	if err != nil {
		s.fail(c, err)
		return
	}
	c.JSON(http.StatusOK, gin.H{"status": "ok", "version": s.Version, "fold": store.FoldVersion})
}

func noStore(c *gin.Context) { c.Header("Cache-Control", "no-store") }

// now is the time, for an answer that depends on it: it is asked for again by the minute.
func (s *Server) now(c *gin.Context) time.Time {
	store.ReadClock(c.Request.Context())
	return s.Now()
}

// seenHeader tells the place in the log that an answer was read at: commands that are made from it name it.
const seenHeader = "Iter-Seen"

// read runs a question on a snapshot.
func read[T any](s *Server, c *gin.Context, f func(*store.Tx) (T, error)) (out T, err error) {
	err = s.Store.Read(c.Request.Context(), func(tx *store.Tx) error {
		seq, err := tx.Seq()
		if err != nil {
			return err
		}
		c.Header(seenHeader, strconv.FormatInt(seq, 10))
		out, err = f(tx)
		return err
	})
	return out, err
}

func nonce() string { return rand.Text() }
