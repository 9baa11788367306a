// Package records holds what a company knows before any work is done: its people, itself, customers, sites and assets.
package records

import (
	"encoding/json"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/calendar"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"

	"github.com/shopspring/decimal"
)

// Role is what a person may do.
type Role string

const (
	Technician    Role = "technician"
	Terminal      Role = "terminal" // a tablet in the workshop, on which people identify themselves
	Dispatcher    Role = "dispatcher"
	Reviewer      Role = "reviewer"
	Stores        Role = "stores"
	Administrator Role = "administrator"
)

// Values lists the roles, for generated types.
func (Role) Values() []string {
	return []string{string(Technician), string(Terminal), string(Dispatcher), string(Reviewer), string(Stores), string(Administrator)}
}

// Person works for the company.
type Person struct {
	Name  string `json:"name"`
	Short string `json:"short"` // how lists and boards call them
	Roles []Role `json:"roles"`
	Phone string `json:"phone,omitempty"`
	Email string `json:"email,omitempty"`
	Van   string `json:"van,omitempty"` // the place they carry
	// Skills are what they are qualified for, by the ids of the settings of orders.
	Skills []string `json:"skills,omitempty"`
	// Sort is the sort of work that their time goes to where nothing else is said, by the ids of the settings of time.
	Sort string `json:"sort,omitempty"`
	// Home is where their day begins, when it is not the yard.
	Home *Point `json:"home,omitempty"`
	// Hours are the weeks that they work, where they are not the company's usual ones.
	Hours []calendar.Week `json:"hours,omitempty"`
	// Team and Areas are theirs, by the ids of the settings of planning.
	Team  string   `json:"team,omitempty"`
	Areas []string `json:"areas,omitempty"`
	// Ahead is how far ahead they see their plan; "": as the company says.
	Ahead Ahead `json:"ahead,omitempty"`
	// Certificates say until when they have skills that run out.
	Certificates []Certificate `json:"certificates,omitempty"`
}

// Certificate is what a skill of somebody's rests on.
type Certificate struct {
	Skill string `json:"skill"`
	Until string `json:"until"` // the last date
}

// SkillsOn are the skills that a person has on a date: those that have run out are none.
func (p Person) SkillsOn(date string) []string {
	return slices.DeleteFunc(slices.Clone(p.Skills), func(s string) bool {
		return slices.ContainsFunc(p.Certificates, func(c Certificate) bool { return c.Skill == s && c.Until < date })
	})
}

// Point is a place on the map.
type Point struct {
	Lat float64 `json:"lat"` // degrees north, WGS 84
	Lon float64 `json:"lon"` // degrees east
}

// Has tells whether the person has one of the roles. An administrator has all but the technician's and the terminal's.
func (p Person) Has(roles ...Role) bool {
	for _, r := range roles {
		if slices.Contains(p.Roles, r) || (r != Technician && r != Terminal && slices.Contains(p.Roles, Administrator)) {
			return true
		}
	}
	return false
}

// Contact is a person at a customer or site.
type Contact struct {
	Name  string `json:"name"`
	Role  string `json:"role,omitempty"`
	Phone string `json:"phone,omitempty"`
	Email string `json:"email,omitempty"`
}

// Customer is who pays.
type Customer struct {
	Name    string  `json:"name"`
	Address string  `json:"address,omitempty"`
	Contact Contact `json:"contact"` // whom messages go to
	// People are others there, and Note is what whoever deals with them should see first.
	People []Contact `json:"people,omitempty"`
	Note   string    `json:"note,omitempty"`
	// Merged is the record of the same type that it turned out to be, "" for one of its own.
	Merged string `json:"merged,omitempty"`
}

// Site is a place that is visited.
type Site struct {
	Customer string  `json:"customer"`
	Name     string  `json:"name"`
	Address  string  `json:"address,omitempty"`
	Lat      float64 `json:"lat,omitempty"` // degrees north, WGS 84
	Lon      float64 `json:"lon,omitempty"` // degrees east
	Access   string  `json:"access,omitempty"`
	Hazard   string  `json:"hazard,omitempty"`
	Contact  Contact `json:"contact"` // whom messages go to
	// People are others there, and Note is what whoever drives there should see first.
	People []Contact `json:"people,omitempty"`
	Note   string    `json:"note,omitempty"`
	// Areas are measured areas by name, kept for the next time. They are what an answer to a question for one is (core/area).
	Areas map[string]json.RawMessage `json:"areas,omitempty"`
	// Documents are the office's papers about the site, by hash.
	Documents map[string]Document `json:"documents,omitempty"`
	// Open is when it can be visited, and Closed when it can't be all the same; nothing said: always.
	Open   []calendar.Week `json:"open,omitempty"`
	Closed []calendar.Off  `json:"closed,omitempty"`
	// Moves are whose it was, in order of time.
	Moves []SiteMove `json:"moves,omitempty"`
	// Merged is the record of the same type that it turned out to be, "" for one of its own.
	Merged string `json:"merged,omitempty"`
}

// SiteMove is a change of whose a site is.
type SiteMove struct {
	audit.Line
	From string `json:"from"` // customer
	To   string `json:"to"`   // customer
	Note string `json:"note,omitempty"`
}

// Document is a paper of the office's, such as a manual. What is in it travels apart, by its hash.
type Document struct {
	Name string `json:"name"`
	Type string `json:"type"` // media type
	Size int64  `json:"size"` // bytes
	Pack bool   `json:"pack"` // whether devices fetch it by themselves
}

// Asset is a serviced machine at a site. A component hangs under its parent.
type Asset struct {
	Site      string `json:"site"`
	Parent    string `json:"parent,omitempty"`
	Name      string `json:"name"`
	Kind      string `json:"kind"`
	Maker     string `json:"maker,omitempty"`
	Serial    string `json:"serial,omitempty"`
	Installed string `json:"installed,omitempty"` // 2006-01-02
	// Part is the catalogue item that it is, Fitted the entry that fitted it, and Warranty the last day it is covered (2006-01-02): of a
	// component that was fitted on a visit. Removed is the day it was taken out again.
	Part     string `json:"part,omitempty"`
	Fitted   string `json:"fitted,omitempty"`
	Warranty string `json:"warranty,omitempty"`
	Removed  string `json:"removed,omitempty"`
	// Struck tells that it was never fitted: the entry was struck out.
	Struck bool `json:"struck,omitempty"`
	// Points are its own, beside those of its kind. One with the id of the kind's takes that one's place.
	Points  []reading.Point `json:"points,omitempty"`
	Charges []Charge        `json:"charges,omitempty"` // of regulated substances
	// Documents are the office's papers about the machine, by hash.
	Documents map[string]Document `json:"documents,omitempty"`
	// Note is what whoever works on it should see first.
	Note string `json:"note,omitempty"`
	// Moves are where it went, in order of time. A machine that was sold away or scrapped is Removed.
	Moves []AssetMove `json:"moves,omitempty"`
	// Merged is the record of the same type that it turned out to be, "" for one of its own.
	Merged string `json:"merged,omitempty"`
}

// AssetMove is a change of where a machine is, and whose.
type AssetMove struct {
	audit.Line
	Why   MoveReason `json:"why"`
	From  string     `json:"from"`            // site
	To    string     `json:"to,omitempty"`    // site; "" when it is nobody's that is known
	Until string     `json:"until,omitempty"` // of one that is lent or rented: when it is to be back, 2006-01-02
	Note  string     `json:"note,omitempty"`
}

// MoveReason is why a machine goes from a site.
type MoveReason string

const (
	Moved    MoveReason = "moved" // of the same customer's
	Sold     MoveReason = "sold"
	Lent     MoveReason = "lent"
	Rented   MoveReason = "rented"
	Back     MoveReason = "back" // from having been lent, rented, or taken out by mistake
	Scrapped MoveReason = "scrapped"
)

// Values lists the reasons, for generated types.
func (MoveReason) Values() []string {
	return []string{string(Moved), string(Sold), string(Lent), string(Rented), string(Back), string(Scrapped)}
}

// Charge is how much of a regulated substance a machine holds when it is full, in the substance's unit.
type Charge struct {
	Substance string          `json:"substance"`
	Amount    decimal.Decimal `json:"amount"`
}

// AssetKind is what machines of a kind have in common. Its document is named by what assets have as Kind.
type AssetKind struct {
	Name    string            `json:"name"`
	Points  []reading.Point   `json:"points,omitempty"`
	Derived []reading.Derived `json:"derived,omitempty"`
}

// PointsOf lists the reading points of an asset: those of its kind, its own in their place, then the rest of its own.
func (k AssetKind) PointsOf(a Asset) []reading.Point {
	out := []reading.Point{}
	for _, p := range k.Points {
		if own, ok := a.Point(p.ID); ok {
			p = own
		}
		out = append(out, p)
	}
	for _, p := range a.Points {
		if !slices.ContainsFunc(k.Points, func(x reading.Point) bool { return x.ID == p.ID }) {
			out = append(out, p)
		}
	}
	return out
}

// Check says what is wrong with a kind of machine.
func (k AssetKind) Check() error {
	if err := checkPoints(k.Points); err != nil {
		return err
	}
	seen := map[string]bool{}
	for _, p := range k.Points {
		seen[p.ID] = true
	}
	for _, d := range k.Derived {
		if seen[d.ID] {
			return msg.New("asset.point", "point", Clip(d.ID))
		}
		seen[d.ID] = true
		if p := d.Check(k.Points); p != nil {
			return &p.Code
		}
	}
	return CheckText("name", k.Name, true, 200)
}

func checkPoints(points []reading.Point) error {
	seen := map[string]bool{}
	for _, p := range points {
		if seen[p.ID] {
			return msg.New("asset.point", "point", Clip(p.ID))
		}
		seen[p.ID] = true
		if err := p.Check(); err != nil {
			return err
		}
	}
	return nil
}

// MaxText is the longest note or description taken, in characters.
const MaxText = 5000

// maxID is the longest id of a document.
const maxID = 80

// CheckID says whether an id can name a document: letters, digits and . _ @ : + -, at most 80.
func CheckID(id string) error {
	if id == "" || len(id) > maxID || !isAlphanumeric(id[0]) || strings.ContainsFunc(id, notInID) {
		return msg.New("id.unusable", "id", Clip(id))
	}
	return nil
}

func isAlphanumeric(c byte) bool {
	return 'a' <= c && c <= 'z' || 'A' <= c && c <= 'Z' || '0' <= c && c <= '9'
}

func notInID(r rune) bool {
	return r >= utf8.RuneSelf || !isAlphanumeric(byte(r)) && !strings.ContainsRune("._@:+-", r)
}

// CheckText says whether a text is there, when it must be, and not longer than max characters.
func CheckText(field, text string, required bool, max int) error {
	if required && strings.TrimSpace(text) == "" {
		return msg.New("text.missing", "field", field)
	}
	if len(text) > max && len([]rune(text)) > max {
		return msg.New("text.long", "field", field, "max", strconv.Itoa(max))
	}
	return nil
}

// Clip shortens what somebody sent, to quote it back.
func Clip(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

// Check says what a person's record lacks.
func (p Person) Check() error {
	if len(p.Roles) == 0 {
		return msg.New("person.role")
	}
	for _, r := range p.Roles {
		if !slices.Contains(r.Values(), string(r)) {
			return msg.New("person.role", "role", Clip(string(r)))
		}
	}
	if err := calendar.CheckWeeks(p.Hours); err != nil {
		return err
	}
	if len(p.Areas)+len(p.Certificates) > maxListed {
		return msg.New("person.many", "max", strconv.Itoa(maxListed))
	}
	for _, c := range p.Certificates {
		if _, err := calendar.Date(c.Until); err != nil {
			return msg.New("calendar.date", "date", Clip(c.Until))
		}
		if err := CheckID(c.Skill); err != nil {
			return err
		}
	}
	if !p.Ahead.Known() {
		return msg.New("ahead.unknown", "ahead", Clip(string(p.Ahead)))
	}
	if p.Team != "" {
		if err := CheckID(p.Team); err != nil {
			return err
		}
	}
	return CheckText("name", p.Name, true, 200)
}

// Check says what a customer's record lacks.
func (c Customer) Check() error {
	if err := checkPeople(c.Contact, c.People, c.Note); err != nil {
		return err
	}
	return CheckText("name", c.Name, true, 200)
}

// maxListed is how many areas and certificates a person has.
const maxListed = 100

// maxPeople is how many people a customer or site has beside the one whom messages go to.
const maxPeople = 30

func checkPeople(first Contact, others []Contact, note string) error {
	if len(others) > maxPeople {
		return msg.New("contact.many", "max", strconv.Itoa(maxPeople))
	}
	for _, c := range append([]Contact{first}, others...) {
		if err := c.Check(); err != nil {
			return err
		}
	}
	return CheckText("note", note, false, MaxText)
}

// Check says what is too long to be a contact.
func (c Contact) Check() error {
	return checkShort([][2]string{{"name", c.Name}, {"role", c.Role}, {"phone", c.Phone}, {"email", c.Email}})
}

func checkShort(fields [][2]string) error {
	for _, f := range fields {
		if err := CheckText(f[0], f[1], false, 200); err != nil {
			return err
		}
	}
	return nil
}

func checkDocuments(docs map[string]Document) error {
	for _, d := range docs {
		if err := CheckText("name", d.Name, true, 200); err != nil {
			return err
		}
	}
	return nil
}

// Check says what a site's record lacks, or where it can't be on earth.
func (s Site) Check() error {
	if s.Lat < -90 || s.Lat > 90 || s.Lon < -180 || s.Lon > 180 {
		return msg.New("site.position")
	}
	if err := calendar.CheckWeeks(s.Open); err != nil {
		return err
	}
	if err := calendar.CheckOff(s.Closed); err != nil {
		return err
	}
	if err := CheckText("access", s.Access, false, MaxText); err != nil {
		return err
	}
	if err := CheckText("hazard", s.Hazard, false, MaxText); err != nil {
		return err
	}
	if err := checkPeople(s.Contact, s.People, s.Note); err != nil {
		return err
	}
	if err := checkDocuments(s.Documents); err != nil {
		return err
	}
	if err := CheckID(s.Customer); err != nil {
		return err
	}
	return CheckText("name", s.Name, true, 200)
}

// Check says what an asset's record lacks.
func (a Asset) Check() error {
	if err := CheckID(a.Site); err != nil {
		return err
	}
	if err := checkPoints(a.Points); err != nil {
		return err
	}
	for _, c := range a.Charges {
		if c.Substance == "" || !c.Amount.IsPositive() {
			return msg.New("asset.charge")
		}
	}
	if err := checkShort([][2]string{{"maker", a.Maker}, {"serial", a.Serial}, {"installed", a.Installed}}); err != nil {
		return err
	}
	if err := checkDocuments(a.Documents); err != nil {
		return err
	}
	if err := CheckText("note", a.Note, false, MaxText); err != nil {
		return err
	}
	return CheckText("name", a.Name, true, 200)
}

// Point gives the asset's reading point with an id.
func (a Asset) Point(id string) (reading.Point, bool) {
	i := slices.IndexFunc(a.Points, func(p reading.Point) bool { return p.ID == id })
	if i < 0 {
		return reading.Point{}, false
	}
	return a.Points[i], true
}
