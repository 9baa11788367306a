// Command iter is the whole program: server, front end, core for the browser, fonts and demo data in one file.
package main

import (
	"cmp"
	"context"
	"embed"
	"errors"
	"flag"
	"fmt"
	"io/fs"
	"log/slog"
	"maps"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"slices"
	"strings"
	"sync/atomic"
	"syscall"
	"time"
	_ "time/tzdata"

	"iter.example/iter/server/accounts"
	"iter.example/iter/server/api"
	"iter.example/iter/server/company"
	"iter.example/iter/server/demo"
	"iter.example/iter/server/importing"
	"iter.example/iter/server/replication"
	"iter.example/iter/server/signals"
	"iter.example/iter/server/standin"
	"iter.example/iter/server/store"
	"iter.example/iter/server/ways"
)

//go:embed all:dist
var dist embed.FS

// demoLead is how soon the demo's supplier brings what was ordered.
const demoLead = 20 * time.Second

const usage = `iter – field service that works with no signal

  iter demo                     serve a made-up firm, with accounts to try
  iter serve --data DIR         serve a company
  iter admin --data DIR --login NAME [--name NAME] [--company NAME] [--zone ZONE]
                                make an administrator; prints a first password
  iter password --data DIR --login NAME --person ID
                                give a person a login; prints a first password
  iter import --data DIR FOLDER read people, customers, sites, assets, parts, stock and work orders from CSV files
  iter roads --data DIR FILE    read the roads of an OpenStreetMap extract (.osm.pbf or .osm), in place of those before; the program may run
  iter verify --data DIR        fold the log anew and compare
  iter rebuild --data DIR       fold the log anew and replace what was folded before
  iter serve --data DIR --replicate OTHER
                                serve, and keep a second copy in another place, all the time
  iter restore --data DIR OTHER put that copy back, to a directory without data
  iter backup --data DIR OTHER  copy the database and the files to another directory, while the program runs
  iter version                  tell which program this is, and which version of the fold it has

Each command tells its flags with -h.
`

var commands = map[string]func(context.Context, []string) error{
	"demo": runDemo, "serve": runServe, "admin": runAdmin, "password": runPassword, "import": runImport, "verify": runVerify,
	"rebuild": runRebuild, "backup": runBackup, "restore": runRestore, "roads": runRoads,
	"version": runVersion,
}

// version is which program this is: what the sources were at, as make stamps it.
var version = "unstamped"

func runVersion(context.Context, []string) error {
	fmt.Printf("iter %s, fold %d\n", version, store.FoldVersion)
	return nil
}

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if len(os.Args) < 2 || commands[os.Args[1]] == nil {
		fmt.Fprint(os.Stderr, usage)
		os.Exit(2)
	}
	if err := commands[os.Args[1]](ctx, os.Args[2:]); err != nil {
		if !errors.Is(err, flag.ErrHelp) {
			fmt.Fprintln(os.Stderr, "iter "+os.Args[1]+":", err)
		}
		stop()
		os.Exit(1)
	}
}

// flags are those that most commands have.
type flags struct {
	*flag.FlagSet
	data, address *string
	secure        *bool
	verbose       *bool
	replicate     *string
	proxies       *string
	metrics       *string
	roadsURL      *string
	pushContact   *string
	pushLocal     *bool
	quiet         *time.Duration
	mqtt          *string
	controllers   *bool // of a demo
}

func newFlags(name, data string) flags {
	f := flag.NewFlagSet("iter "+name, flag.ContinueOnError)
	return flags{FlagSet: f, data: f.String("data", data, "`directory` that holds the database")}
}

func (f flags) serving() flags {
	f.address = f.String("address", "127.0.0.1:8420", "`address` to listen on")
	f.secure = f.Bool("secure", false, "set cookies for HTTPS only (behind a TLS proxy)")
	f.replicate = f.String("replicate", "", "`directory` in another place to keep a second copy in")
	f.proxies = f.String("proxies", "", "`addresses` or networks of proxies, with commas between, that say whose requests they pass on")
	f.metrics = f.String("metrics", "", "`address` to give figures on, for Prometheus; none when left out")
	f.pushContact = f.String("push-contact", "", "mail `address` or https page where the push services of browsers reach whoever runs this")
	f.pushLocal = f.Bool("push-local", false, "call push services within the own network too")
	f.quiet = f.Duration("notify-after", time.Minute, "for how long a plan must not change before its technician is notified")
	f.mqtt = f.String("mqtt", "", "`address` to take machines' signals on over MQTT; over HTTP alone when left out")
	f.roadsURL = f.String("roads-url", "", "`address` of a routing server of the firm's own, asked in place of the roads that were read")
	f.verbose = f.Bool("verbose", false, "log every request")
	return f
}

// open opens the store that --data names.
func (f flags) open(ctx context.Context, args []string) (*store.Store, error) {
	if err := f.Parse(args); err != nil {
		return nil, err
	}
	if *f.data == "" {
		return nil, errNoData
	}
	return store.Open(ctx, *f.data)
}

// openFolded opens the store of whoever records by what it holds: it must be what this program folds the log into.
func (f flags) openFolded(ctx context.Context, args []string) (*store.Store, error) {
	s, err := f.open(ctx, args)
	if err != nil {
		return nil, err
	}
	stale, err := s.Stale(ctx)
	if err == nil && stale {
		err = fmt.Errorf("what %s holds was folded by an earlier program; nothing was changed. iter rebuild --data %s folds it anew", *f.data,
			*f.data)
	}
	if err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

func runServe(ctx context.Context, args []string) error {
	f := newFlags("serve", "").serving()
	if err := f.Parse(args); err != nil {
		return err
	}
	l, leave, err := f.take()
	if err != nil {
		return err
	}
	defer leave()
	if made, err := holdsDemo(ctx, *f.data); err != nil {
		return err
	} else if made {
		return fmt.Errorf("%s holds a demo, whose passwords everybody knows; nothing was changed. iter demo --keep --data "+
			"%s serves it; a company of your own needs another directory", *f.data, *f.data)
	}
	s, err := store.Open(ctx, *f.data)
	if err != nil {
		return err
	}
	defer s.Close()
	return serve(ctx, f, l, s, nil)
}

// take takes the address and the directory to serve from, before anything is written: a second program changes nothing. leave gives them
// back.
func (f flags) take() (l net.Listener, leave func(), err error) {
	if *f.data == "" {
		return nil, nil, errNoData
	}
	l, err = net.Listen("tcp", *f.address)
	if errors.Is(err, syscall.EADDRINUSE) {
		return nil, nil,
			fmt.Errorf("%s is in use by another program; nothing was changed. Stop it, or choose another address with --address",
				*f.address)
	}
	if err != nil {
		return nil, nil, err
	}
	unlock, err := store.Lock(*f.data)
	if err != nil {
		return nil, nil, errors.Join(err, l.Close())
	}
	return l, func() { _, _ = l.Close(), unlock() }, nil
}

var errNoData = errors.New("say where the data is: --data DIR")

// holdsDemo tells whether a directory holds a demo; one without data holds none.
func holdsDemo(ctx context.Context, dir string) (bool, error) {
	if _, err := os.Stat(filepath.Join(dir, store.FileName)); errors.Is(err, fs.ErrNotExist) {
		return false, nil
	}
	return store.DemoIn(ctx, dir)
}

// emptied gives a directory for a demo: one without data, or one whose demo is thrown away unless it is kept. Other data is not touched.
func emptied(ctx context.Context, dir string, keep bool) error {
	_, err := os.Stat(filepath.Join(dir, store.FileName))
	if errors.Is(err, fs.ErrNotExist) {
		if _, err := os.Stat(filepath.Join(dir, store.FilesDir)); err == nil {
			return fmt.Errorf("%s holds files that are not a demo's; nothing was changed. Choose another directory with --data", dir)
		}
		return nil
	}
	if err != nil {
		return err
	}
	made, err := store.DemoIn(ctx, dir)
	if err != nil {
		return err
	}
	if !made {
		return fmt.Errorf("%s holds data that is not a demo's; nothing was changed. Choose another directory with --data (a "+
			"demo made before this release is not marked as one: delete it yourself)", dir)
	}
	if keep {
		return nil
	}
	gone := []string{store.FilesDir, store.RegionDir}
	for _, name := range []string{store.FileName, signals.FileName} {
		gone = append(gone, name, name+"-wal", name+"-shm")
	}
	for _, name := range gone {
		if err := os.RemoveAll(filepath.Join(dir, name)); err != nil {
			return err
		}
	}
	return nil
}

func zoneNamed(name string) (*time.Location, error) {
	loc, err := time.LoadLocation(name)
	if err != nil {
		return nil, fmt.Errorf("no time zone is called %q; nothing was changed", name)
	}
	return loc, nil
}

func runDemo(ctx context.Context, args []string) error {
	f := newFlags("demo", ".demo").serving()
	days := f.Int("history", 730, "`days` of history")
	zone := f.String("zone", "", "`zone` of the firm's clock; left out, one in which half of a working day is done")
	seed := f.Int64("seed", 1, "another `number` makes another firm")
	keep := f.Bool("keep", false, "keep what is in the data directory, if there is something")
	f.controllers = f.Bool("controllers", true, "have simulated controllers of machines report")
	if err := f.Parse(args); err != nil {
		return err
	}
	loc, err := zoneNamed(cmp.Or(*zone, demo.ZoneAt(time.Now())))
	if err != nil {
		return err
	}
	l, leave, err := f.take()
	if err != nil {
		return err
	}
	defer leave()
	if err := emptied(ctx, *f.data, *keep); err != nil {
		return err
	}
	s, err := store.Open(ctx, *f.data)
	if err != nil {
		return err
	}
	defer s.Close()
	if _, rev, err := store.Region(*f.data); err != nil {
		return err
	} else if rev == "" {
		if err := demo.BringRegion(ctx, *f.data); err != nil {
			return err
		}
	}
	empty := false
	if err := s.Write(ctx, func(tx *store.Tx) error {
		n, err := tx.Seq()
		if err != nil {
			return err
		}
		empty = n == 0
		return tx.MarkDemo()
	}); err != nil {
		return err
	}
	if empty {
		fmt.Println("Making a firm on a made-up coast …")
		began := time.Now()
		if err := demo.Fill(ctx, s, began, loc, *seed, *days); err != nil {
			return err
		}
		for _, a := range demo.Accounts() {
			if err := accounts.Set(ctx, s, a.Login, a.Login, a.Password); err != nil {
				return err
			}
		}
		fmt.Printf("… made in %.1f s. The firm's clock says %s.\n", time.Since(began).Seconds(), began.In(loc).Format("15:04"))
	}
	return serve(ctx, f, l, s, demo.Accounts())
}

// lateHandler answers with a handler once there is one: whoever asks before is told to ask again.
type lateHandler struct{ handler atomic.Pointer[http.Handler] }

func (l *lateHandler) set(h http.Handler) { l.handler.Store(&h) }

func (l *lateHandler) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if h := l.handler.Load(); h != nil {
		(*h).ServeHTTP(w, r)
		return
	}
	api.NotReady(w)
}

// serve answers until the context ends, and lets what is under way finish.
func serve(ctx context.Context, f flags, l net.Listener, s *store.Store, offered []api.DemoAccount) error {
	level := slog.LevelInfo
	if *f.verbose {
		level = slog.LevelDebug
	}
	log := slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: level}))
	// What comes and goes on a bad line may take long: the handler ends it when it falls silent.
	late := &lateHandler{}
	srv := &http.Server{Handler: late, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10,
		ErrorLog: slog.NewLogLogger(log.Handler(), slog.LevelDebug)}
	defer srv.Close()
	failed := make(chan error, 1)
	go func() { failed <- srv.Serve(l) }()
	if stale, err := s.Stale(ctx); err != nil {
		return err
	} else if stale {
		fmt.Println("This program folds the log into more than the one before: folding it anew …")
		if _, err := s.Rebuild(ctx, progress()); err != nil {
			return fmt.Errorf("%w; the tables are as they were", err)
		}
	}
	if err := s.Write(ctx, func(tx *store.Tx) error {
		return company.Found(&company.Writer{Tx: tx, Now: time.Now()}, "My company", time.Local)
	}); err != nil {
		return err
	}
	if err := s.Resume(ctx, time.Now()); err != nil {
		return err
	}
	if *f.replicate != "" {
		stop, err := replication.Start(ctx, s, *f.replicate, log)
		if err != nil {
			return err
		}
		defer func() {
			if err := stop(); err != nil {
				log.Error("the second copy lacks the last changes", "error", err)
			}
		}()
	}
	assets, err := fs.Sub(dist, "dist")
	if err != nil {
		return err
	}
	config := api.Config{Store: s, Assets: assets, Demo: offered, Secure: *f.secure, Version: version, Log: log,
		PushContact: *f.pushContact, PushLocal: *f.pushLocal, Quiet: *f.quiet}
	if *f.roadsURL != "" {
		if config.RoadServer, err = ways.NewRemote(*f.roadsURL); err != nil {
			return err
		}
	}
	if *f.proxies != "" {
		config.Proxies = strings.Split(*f.proxies, ",")
	}
	if offered != nil { // whoever tries it does not wait two days for a part
		config.Supplier = standin.SimulatedSupplier{Store: s, Now: time.Now, Lead: demoLead}
	}
	h, err := api.New(config)
	if err != nil {
		return err
	}
	if *f.metrics != "" {
		figures, err := net.Listen("tcp", *f.metrics)
		if err != nil {
			h.Close()
			return fmt.Errorf("figures: %w", err)
		}
		m := &http.Server{Handler: h.Metrics(), ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 10 * time.Second}
		defer m.Close()
		go func() { _ = m.Serve(figures) }()
		fmt.Printf("Figures are at http://%s\n", figures.Addr())
	}
	if *f.mqtt != "" {
		machines, err := net.Listen("tcp", *f.mqtt)
		if err != nil {
			h.Close()
			return fmt.Errorf("mqtt: %w", err)
		}
		broker, err := signals.Listen(h.Signals(), machines, log)
		if err != nil {
			h.Close()
			return fmt.Errorf("mqtt: %w", err)
		}
		defer func() { _ = broker.Close() }()
		fmt.Printf("Machines report over MQTT at %s\n", machines.Addr())
	}
	late.set(h)
	fmt.Printf("Iter is at http://%s\n", l.Addr())
	if f.controllers != nil && *f.controllers {
		c := demo.Controllers{Store: s, Address: "http://" + l.Addr().String(), Log: log}
		reporting, stop := context.WithCancel(ctx)
		done := make(chan struct{})
		go func() { defer close(done); c.Run(reporting) }()
		defer func() { stop(); <-done }()
	}
	select {
	case err = <-failed:
		h.Close()
		return err
	case <-ctx.Done():
	}
	log.Info("stopping: requests under way are finished first")
	h.Close()
	grace, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	return srv.Shutdown(grace)
}

func runAdmin(ctx context.Context, args []string) error {
	f := newFlags("admin", "")
	login := f.String("login", "", "`name` to sign in with")
	name := f.String("name", "", "the person's `name`")
	firm := f.String("company", "My company", "the company's `name`, when it has none yet")
	zone := f.String("zone", "Local", "the company's time `zone`, such as Europe/Dublin, when it has none yet")
	s, err := f.openFolded(ctx, args)
	if err != nil {
		return err
	}
	defer s.Close()
	loc, err := zoneNamed(*zone)
	if err != nil {
		return err
	}
	if *login == "" {
		return errors.New("say how they sign in: --login NAME")
	}
	if *name == "" {
		*name = *login
	}
	err = s.Write(ctx, func(tx *store.Tx) error {
		w := &company.Writer{Tx: tx, Now: time.Now()}
		if err := company.Found(w, *firm, loc); err != nil {
			return err
		}
		return company.Administrator(w, *login, *name)
	})
	if err != nil {
		return err
	}
	return firstPassword(ctx, s, *login, *login)
}

func runPassword(ctx context.Context, args []string) error {
	f := newFlags("password", "")
	login := f.String("login", "", "`name` to sign in with")
	person := f.String("person", "", "the person's `id`; the login when left out")
	s, err := f.openFolded(ctx, args)
	if err != nil {
		return err
	}
	defer s.Close()
	if *person == "" {
		*person = *login
	}
	known := false
	if err := s.Read(ctx, func(tx *store.Tx) (err error) {
		known, err = tx.Load("person", *person, new(any))
		return err
	}); err != nil {
		return err
	}
	if !known {
		return fmt.Errorf("there is no person with the id %q; nothing was changed", *person)
	}
	return firstPassword(ctx, s, *login, *person)
}

func firstPassword(ctx context.Context, s *store.Store, login, person string) error {
	password := accounts.FirstPassword()
	if err := accounts.Set(ctx, s, login, person, password); err != nil {
		return err
	}
	fmt.Printf("%s can sign in with the password %s\n", login, password)
	return nil
}

func runImport(ctx context.Context, args []string) error {
	f := newFlags("import", "")
	s, err := f.openFolded(ctx, args)
	if err != nil {
		return err
	}
	defer s.Close()
	if f.NArg() != 1 {
		return errors.New("say which folder holds the files: iter import --data DIR FOLDER")
	}
	lookUp, leave, err := lookUpIn(ctx, *f.data)
	if err != nil {
		return err
	}
	defer leave()
	out, err := importing.Import(ctx, s, os.DirFS(f.Arg(0)), time.Now(), lookUp)
	if problems, ok := errors.AsType[importing.Problems](err); ok {
		fmt.Fprintln(os.Stderr, problems)
		return fmt.Errorf("%d errors; nothing was changed", len(problems))
	}
	if err != nil {
		return err
	}
	for _, name := range slices.Sorted(maps.Keys(out)) {
		r := out[name]
		fmt.Printf("%-16s %6d new %6d changed %6d as they were\n", name, r.Created, r.Changed, r.Same)
		if r.Found > 0 {
			fmt.Printf("%-16s %6d put on the map by their address\n", "", r.Found)
		}
	}
	return sitesOnMap(ctx, s)
}

func runVerify(ctx context.Context, args []string) error {
	f := newFlags("verify", "")
	s, err := f.open(ctx, args)
	if err != nil {
		return err
	}
	defer s.Close()
	differ, n, err := s.Verify(ctx, progress())
	if err != nil {
		return err
	}
	for _, d := range differ {
		fmt.Fprintf(os.Stderr, "differs: %s: %s\n", d.Table, d.Row)
	}
	if len(differ) > 0 {
		return fmt.Errorf("%d rows differ from what the %d entries of the log fold to; nothing was changed. iter rebuild puts them right",
			len(differ), n)
	}
	fmt.Printf("%d entries, everything is what they fold to\n", n)
	return nil
}

func runRebuild(ctx context.Context, args []string) error {
	f := newFlags("rebuild", "")
	s, err := f.open(ctx, args)
	if err != nil {
		return err
	}
	defer s.Close()
	n, err := s.Rebuild(ctx, progress())
	if err != nil {
		return fmt.Errorf("%w; the tables are as they were", err)
	}
	fmt.Printf("rebuilt from %d entries\n", n)
	return nil
}

func runRestore(ctx context.Context, args []string) error {
	f := newFlags("restore", "")
	if err := f.Parse(args); err != nil {
		return err
	}
	if *f.data == "" || f.NArg() != 1 {
		return errors.New("say from where and to where: iter restore --data DIR OTHER-DIR")
	}
	if err := replication.Restore(ctx, f.Arg(0), *f.data); err != nil {
		return err
	}
	fmt.Printf("restored to %s; iter verify --data %s checks it\n", *f.data, *f.data)
	return nil
}

// progress prints how far a long work is, at most once a second.
func progress() store.Progress {
	began := time.Now()
	told := began
	return func(done, total int64) {
		if now := time.Now(); now.Sub(told) >= time.Second {
			told = now
			left := time.Duration(float64(now.Sub(began)) / float64(done) * float64(total-done))
			fmt.Fprintf(os.Stderr, "%d of %d entries (%d %%), about %s left\n", done, total, done*100/total, left.Round(time.Second))
		}
	}
}

func runBackup(ctx context.Context, args []string) error {
	f := newFlags("backup", "")
	s, err := f.open(ctx, args)
	if err != nil {
		return err
	}
	defer s.Close()
	if f.NArg() != 1 {
		return errors.New("say where to: iter backup --data DIR OTHER-DIR")
	}
	n, err := s.Backup(ctx, f.Arg(0))
	if err != nil {
		return err
	}
	fmt.Printf("backed up to %s, with %d files that were not there yet\n", f.Arg(0), n)
	return nil
}
