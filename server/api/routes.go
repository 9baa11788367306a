package api

import (
	"net/http"
	"reflect"
	"strings"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
)

// Route is a way in over HTTP, for whoever tests or generates from them.
type Route struct {
	Method, Path string
	// Query, Body and Answer are the types of what is asked and given as JSON; nil for none, and where a file or a stream is.
	Query, Body, Answer reflect.Type
	// Typed tells that a question or an answer is JSON.
	Typed bool
}

// Done is the answer of what gives nothing (204).
type Done struct{}

// route is a row of the table of ways in: who may, and what does it.
type route struct {
	Route
	who    access
	handle func(*Server) gin.HandlerFunc
}

// access is who may ask: middleware that lets them through.
type access func(*Server) []gin.HandlerFunc

// anyone needs no session; leaving is whoever has a session, their access ended or not; signed is whoever is signed in.
func anyone(*Server) []gin.HandlerFunc    { return nil }
func leaving(s *Server) []gin.HandlerFunc { return []gin.HandlerFunc{s.session} }
func signed(s *Server) []gin.HandlerFunc  { return []gin.HandlerFunc{s.signedIn} }

// with lets through those of before who have one of some roles.
func (a access) with(roles ...records.Role) access {
	return func(s *Server) []gin.HandlerFunc { return append(a(s), s.has(roles...)) }
}

var (
	terminals      = access(signed).with(records.Terminal)
	technicians    = access(signed).with(records.Technician)
	officePeople   = access(signed).with(records.Dispatcher, records.Reviewer, records.Stores)
	dispatchers    = officePeople.with(records.Dispatcher)
	reviewers      = officePeople.with(records.Reviewer)
	judges         = officePeople.with(records.Dispatcher, records.Reviewer)
	storekeepers   = officePeople.with(records.Stores)
	administrators = officePeople.with(records.Administrator)
)

// routes is the table of ways in.
var routes = []route{
	get("/api/start", anyone, (*Server).start),
	post("/api/signin", anyone, (*Server).signIn),
	do("/api/signout", anyone, (*Server).signOut),
	get("/api/check/:code", anyone, (*Server).checkCode),
	do("/api/check", anyone, (*Server).checkPaper),

	// Whoever knows the secret in the address reads the plan: calendars can't sign in.
	raw(http.MethodGet, "/calendar/:file", anyone, (*Server).feed),
	raw(http.MethodPost, "/api/signals", anyone, (*Server).takeSignals),

	get("/api/me", signed, (*Server).me),
	post("/api/password", signed, (*Server).changePassword),
	get("/api/roundup", signed, (*Server).roundUp),
	getQuery("/api/directory", technicians, (*Server).directory),
	getQuery("/api/ways", technicians, (*Server).ways),
	get("/api/nearby", technicians, (*Server).nearby),
	post("/api/nearby", technicians, (*Server).takeNearby),
	get("/api/feed", technicians, (*Server).ownFeed),
	do("/api/feed", technicians, (*Server).makeOwnFeed),
	do("/api/feed/end", technicians, (*Server).endOwnFeed),
	get("/api/push", technicians, (*Server).pushKey),
	post("/api/push", technicians, (*Server).reachByPush),
	get("/api/directory/:customer", technicians, (*Server).customerInShort),
	get("/api/map", signed, (*Server).regionMap),
	raw(http.MethodGet, "/api/map/:rev/:z/:x/:y", signed, (*Server).tile),
	raw(http.MethodGet, "/api/events", signed, (*Server).events),
	raw(http.MethodGet, "/api/reports/:file", signed, (*Server).report),
	raw(http.MethodGet, "/api/files/:hash", signed, (*Server).file),
	raw(http.MethodHead, "/api/files/:hash", signed, (*Server).file),

	// Where a device whose access was ended hands over what it has.
	raw(http.MethodPost, "/api/sync", leaving, (*Server).sync),
	raw(http.MethodPost, "/api/upload/*piece", leaving, (*Server).upload),
	raw(http.MethodHead, "/api/upload/*piece", leaving, (*Server).upload),
	raw(http.MethodPatch, "/api/upload/*piece", leaving, (*Server).upload),
	raw(http.MethodOptions, "/api/upload/*piece", leaving, (*Server).upload),

	get("/api/terminal/people", terminals, (*Server).terminalPeople),
	post("/api/terminal/identify", terminals, (*Server).identify),

	get("/api/office/home", officePeople, (*Server).home),
	getQuery("/api/office/board", officePeople, (*Server).board),
	getQuery("/api/office/fit", dispatchers, (*Server).fit),
	raw(http.MethodGet, "/api/office/days/:person/paper.pdf", officePeople, (*Server).dayPaper),
	post("/api/office/days/:person/send", dispatchers, (*Server).sendDay),
	getQuery("/api/office/daymap", officePeople, (*Server).dayMap),
	getQuery("/api/office/weeks", officePeople, (*Server).weeks),
	getQuery("/api/office/gap", dispatchers, (*Server).gap),
	post("/api/office/solving", dispatchers, (*Server).solve),
	get("/api/office/solving", dispatchers, (*Server).solving),
	do("/api/office/solving/stop", dispatchers, (*Server).stopSolving),
	get("/api/office/draft", dispatchers, (*Server).draft),
	raw(http.MethodGet, "/api/office/day.geojson", officePeople, (*Server).dayGeoJSON),
	raw(http.MethodGet, "/api/office/day.ways", officePeople, (*Server).dayWays),
	get("/api/office/kept", officePeople, (*Server).kept),
	post("/api/office/again", officePeople, (*Server).regain),
	getQuery("/api/office/find", officePeople, (*Server).find),
	getQuery("/api/office/lists/:list", officePeople, (*Server).list),
	getQuery("/api/office/lists/:list/groups", officePeople, (*Server).listGroups),
	getQuery("/api/office/lists/:list/all", officePeople, (*Server).listAll),
	raw(http.MethodPost, "/api/office/lists/:list/file", officePeople, (*Server).listFile),
	get("/api/office/planning", officePeople, (*Server).planning),
	get("/api/office/templates", officePeople, (*Server).templates),
	get("/api/office/people", officePeople, (*Server).officePeople),
	get("/api/office/feeds/:person", dispatchers, (*Server).personsFeed),
	do("/api/office/feeds/:person", dispatchers, (*Server).makePersonsFeed),
	do("/api/office/feeds/:person/end", dispatchers, (*Server).endPersonsFeed),
	getQuery("/api/office/promises", officePeople, (*Server).promiseFigures),
	get("/api/office/signals", officePeople, (*Server).signalsPage),
	post("/api/office/signals/sources", administrators, (*Server).makeSource),
	do("/api/office/signals/sources/:id/end", administrators, (*Server).endSource),
	get("/api/office/signals/machines/:asset", officePeople, (*Server).machineSignals),
	get("/api/office/undertakings", officePeople, (*Server).undertakings),
	get("/api/office/undertakings/:id", officePeople, (*Server).undertaking),
	getQuery("/api/office/upkeep", officePeople, (*Server).upkeep),
	get("/api/office/upkeep/load", officePeople, (*Server).load),
	get("/api/office/upkeep/:id", officePeople, (*Server).upkeepPlan),
	get("/api/office/agreements", officePeople, (*Server).agreements),
	get("/api/office/due/:type/:id", officePeople, (*Server).due),
	get("/api/office/knowhow", officePeople, (*Server).knowHow),
	get("/api/office/views", officePeople, (*Server).views),
	getQuery("/api/office/promise", officePeople, (*Server).promise),
	getQuery("/api/office/free", officePeople, (*Server).free),
	get("/api/office/drives", officePeople, (*Server).drivesLearned),
	getQuery("/api/office/addresses", officePeople, (*Server).addresses),
	getQuery("/api/office/customers", officePeople, (*Server).customers),
	get("/api/office/callers/:type/:id", officePeople, (*Server).caller),
	get("/api/office/finished", officePeople, (*Server).finished),
	get("/api/office/unsigned", officePeople, (*Server).unsigned),
	get("/api/office/endrules", officePeople, (*Server).endRules),
	get("/api/office/talks", officePeople, (*Server).talks),
	get("/api/office/talks/:order", officePeople, (*Server).talk),
	get("/api/office/timeline/:type/:id", officePeople, (*Server).timeline),
	get("/api/office/hanging/:type/:id", officePeople, (*Server).hanging),
	post("/api/office/reports/:visit", officePeople, (*Server).makeReport),
	get("/api/office/orders/:id", officePeople, (*Server).order),
	raw(http.MethodGet, "/api/office/orders/:id/paper.pdf", officePeople, (*Server).orderPaper),
	get("/api/office/visits/:id", officePeople, (*Server).visit),
	post("/api/office/entries", officePeople, (*Server).command),
	get("/api/office/undoable", officePeople, (*Server).undoable),
	post("/api/office/undo/:id", officePeople, (*Server).undo),
	get("/api/office/used/:type/:id", officePeople, (*Server).recordUsed),
	get("/api/office/work/:type/:id", officePeople, (*Server).recordWork),
	get("/api/office/records/:type/:id", officePeople, (*Server).record),
	get("/api/office/flags", officePeople, (*Server).flagged),
	get("/api/office/held", officePeople, (*Server).held),
	post("/api/office/held/:id", officePeople, (*Server).decide),
	get("/api/office/devices", officePeople, (*Server).devices),
	do("/api/office/devices/:replica/end", dispatchers, (*Server).endDevice),
	do("/api/office/unsent", dispatchers, (*Server).takeUnsent),
	get("/api/office/messages", officePeople, (*Server).sentMessages),
	get("/api/office/badges", dispatchers, (*Server).badges),
	post("/api/office/badges/:person/pin", dispatchers, (*Server).setPin),
	raw(http.MethodGet, "/api/office/label", officePeople, (*Server).label),
	get("/api/office/settings", officePeople, (*Server).settings),

	getQuery("/api/office/hours", judges, (*Server).hours),
	getQuery("/api/office/hours/orders", judges, (*Server).hoursByOrder),
	get("/api/office/hours/days/:card", judges, (*Server).dayOfHours),
	post("/api/office/hours/post", reviewers, (*Server).post),
	get("/api/office/hours/booked/:card", judges, (*Server).booked),
	raw(http.MethodGet, "/api/office/hours/payroll.csv", reviewers, (*Server).payroll),

	getQuery("/api/office/attention", officePeople, (*Server).attention),
	get("/api/office/kinds", officePeople, (*Server).kindsOfAssets),
	get("/api/office/measured/:asset", officePeople, (*Server).measured),
	get("/api/office/substances/:site", officePeople, (*Server).substances),
	get("/api/office/sheets", officePeople, (*Server).sheets),
	get("/api/office/sheets/:id", officePeople, (*Server).sheet),
	post("/api/office/sheets", officePeople, (*Server).look),
	do("/api/office/sheetfile", officePeople, (*Server).readSheet),
	raw(http.MethodGet, "/api/office/sheetfile/:ref", officePeople, (*Server).sheetFile),
	raw(http.MethodGet, "/api/office/export/:file", officePeople, (*Server).export),

	do("/api/office/partslist", officePeople, (*Server).readPartsList),
	get("/api/office/stores/places", officePeople, (*Server).places),
	get("/api/office/stores/shelf/:place", officePeople, (*Server).shelf),
	getQuery("/api/office/stores/movements", officePeople, (*Server).movements),
	getQuery("/api/office/stores/requests", officePeople, (*Server).requests),
	get("/api/office/stores/purchases", officePeople, (*Server).purchases),
	get("/api/office/stores/ahead", officePeople, (*Server).partsAhead),
	get("/api/office/stores/handovers", officePeople, (*Server).handovers),
	getQuery("/api/office/stores/picks", officePeople, (*Server).picks),
	getQuery("/api/office/stores/fills", officePeople, (*Server).fills),
	get("/api/office/stores/catalogue", officePeople, (*Server).catalogue),
	raw(http.MethodGet, "/api/office/stores/file/:file", officePeople, (*Server).storesFile),
	do("/api/office/stores/import/:file", storekeepers, (*Server).importStores),

	get("/api/office/accounts", administrators, (*Server).accounts),
	post("/api/office/accounts/:person/access", administrators, (*Server).setAccess),
	post("/api/office/accounts/:person/password", administrators, (*Server).newPassword),
	do("/api/office/sessions/:id/end", administrators, (*Server).endSession),
}

// Routes lists the ways in.
func Routes() []Route {
	out := make([]Route, len(routes))
	for i, r := range routes {
		out[i] = r.Route
	}
	return out
}

// get is a question without anything but what the path says.
func get[A any](path string, who access, f func(*Server, *gin.Context) (A, error)) route {
	return row[A](http.MethodGet, path, who, nil, nil, f)
}

// getQuery is a question whose query says more: fields with form tags.
func getQuery[Q, A any](path string, who access, f func(*Server, *gin.Context, Q) (A, error)) route {
	return row(http.MethodGet, path, who, reflect.TypeFor[Q](), nil, func(s *Server, c *gin.Context) (A, error) {
		var q Q
		if err := c.ShouldBindQuery(&q); err != nil {
			return *new(A), refusal{status: http.StatusBadRequest, why: msg.New("http.query")}
		}
		return f(s, c, q)
	})
}

// post does something with what is sent as JSON.
func post[B, A any](path string, who access, f func(*Server, *gin.Context, B) (A, error)) route {
	return row(http.MethodPost, path, who, nil, reflect.TypeFor[B](), func(s *Server, c *gin.Context) (A, error) {
		var b B
		if err := body(c, &b); err != nil {
			return *new(A), err
		}
		return f(s, c, b)
	})
}

// do does something, with nothing sent or a file.
func do[A any](path string, who access, f func(*Server, *gin.Context) (A, error)) route {
	return row[A](http.MethodPost, path, who, nil, nil, f)
}

// raw answers by itself, with a file or a stream.
func raw(method, path string, who access, f func(*Server, *gin.Context)) route {
	return route{Route{Method: method, Path: path}, who, func(s *Server) gin.HandlerFunc { return func(c *gin.Context) { f(s, c) } }}
}

// An answer to the office tells what it was read from, and what was changed, by the names of store.Sources.
const (
	readHeader    = "Iter-Read"
	changedHeader = "Iter-Changed"
)

func row[A any](method, path string, who access, query, body reflect.Type, f func(*Server, *gin.Context) (A, error)) route {
	r := route{Route: Route{Method: method, Path: path, Query: query, Body: body, Typed: true}, who: who}
	if r.Answer = reflect.TypeFor[A](); r.Answer == reflect.TypeFor[Done]() {
		r.Answer = nil
	}
	r.handle = func(s *Server) gin.HandlerFunc {
		return func(c *gin.Context) {
			ctx, sources := store.Collect(c.Request.Context())
			c.Request = c.Request.WithContext(ctx)
			out, err := f(s, c)
			switch {
			case !strings.HasPrefix(path, "/api/office/"): // nobody else asks again by it, or is to know what there is
			case method == http.MethodGet:
				c.Header(readHeader, strings.Join(sources.Read(), " "))
			default:
				c.Header(changedHeader, strings.Join(sources.Changed(), " "))
			}
			switch {
			case err != nil:
				s.fail(c, err)
			case r.Answer == nil:
				c.Status(http.StatusNoContent)
			default:
				s.answer(c, out)
			}
		}
	}
	return r
}
