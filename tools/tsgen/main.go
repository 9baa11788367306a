// Command tsgen prints the TypeScript types of documents, entries' bodies and API bodies, read from the Go types by
// reflection. make types writes web/src/types.ts with it.
package main

import (
	"encoding/json"
	"fmt"
	"os"
	"reflect"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/bridge"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/view"
	"iter.example/iter/server/api"
	"iter.example/iter/server/store"
)

// roots are types that come with no document, entry, function of the core or route.
var roots = []any{audit.Line{}, sheet.Pick{}, sheet.Drawn{}, bridge.Failure{},
	api.Problem{}, api.Conflict{}, api.News{}, api.ListFile{}, store.Filter{}, plan.Fit{}, plan.Question{}, plan.Handed{}, plan.Repaired{}}

// prefixed are packages whose names would clash with those of documents.
var prefixed = map[string]string{"iter.example/iter/core/bridge": "Core", "iter.example/iter/core/upkeep": "Upkeep",
	"iter.example/iter/server/upkeep": "Upkeep", "iter.example/iter/core/signal": "Signal", "iter.example/iter/core/ledger": "",
	"iter.example/iter/core/view": "", "iter.example/iter/core/work": "", "iter.example/iter/server/api": ""}

var rename = map[string]string{"core/audit.Line": "RecordedLine", "core/signoff.Part": "SummaryPart",
	"server/promises.Promise": "PromiseAnswer",
	"core/signoff.Change":     "SummaryChange", "core/view.Signed": "SignedChanges", "core/work.Answer": "ProposalAnswerKind",
	"core/view.Exception": "ReviewException", "core/view.ExceptionKind": "ReviewExceptionKind", "core/work.Report": "VisitReport",
	"core/work.State": "OrderState", "core/report.Report": "ServiceReport", "core/report.Part": "ReportPart",
	"core/report.Reading": "ReportReading", "core/report.Sheet": "ReportSheet", "core/report.Signature": "ReportSignature",
	"core/report.Photo": "ReportPhoto", "core/report.Time": "ReportTime", "core/work.Question": "OfficeQuestion",
	"core/report.Settings": "ReportSettings", "core/sheet.Settings": "SheetSettings", "core/stock.Settings": "StoresSettings",
	"core/roads.Settings": "RoadSettings", "core/substance.Settings": "SubstanceSettings", "core/trouble.Settings": "TroubleSettings",
	"core/trouble.Node": "TroubleNode", "core/labor.Said": "SaidOfTime", "core/trouble.Kind": "TroubleKind", "core/labor.Terms": "PayTerms",
	"core/labor.Rules": "PayRules", "core/settings.Dated": "DatedSettings", "core/settings.Fields": "SettingsFields",
	"core/sheet.Rule": "SheetRule", "core/work.Check": "ReadyCheck",
	"server/reports.Checked": "CheckedReport", "server/api.ReportMade": "MadeReport", "server/api.NeedLine": "NamedNeed",
	"core/ledger.Note": "NoteWritten", "core/ledger.Step": "StepTaken", "core/ledger.File": "FileAttached",
	"server/unsent.Report": "UnsentReport", "core/ledger.Answered": "SheetAnswered", "core/sheet.Kind": "QuestionKind",
	"core/labor.Kind": "ClockKind", "core/replica.Change": "SyncChange", "core/replica.Request": "SyncRequest",
	"core/replica.Response": "SyncResponse", "core/msg.Code": "Code", "core/sheet.State": "SheetProgress",
	"core/replica.State": "ReplicaState",
	"core/stock.Line":    "StockLine", "core/stock.Request": "PartRequestDoc", "core/stock.Movement": "StockMovement",
	"core/stock.Code": "LabelCode", "core/stock.PurchaseLine": "PurchaseItem", "server/parts.Place": "NamedPlace",
	"server/parts.PartName": "StoresPart", "core/ledger.Movement": "MovementFact", "server/store.Movement": "MovementRow",
	"core/work.Extra": "ExtraLine", "core/work.Item": "ExtraItem", "core/work.Purchase": "ExtraPurchase",
	"core/stock.Level": "StockLevel", "server/api.Imported": "ImportReport",
	"core/sheet.Line": "AnswerLine", "core/sheet.Item": "SheetItem", "core/sheet.Alert": "SheetAlert", "core/ledger.Given": "GivenAnswer",
	"core/area.Form": "ShapeForm", "core/audit.Moment": "EntryMoment", "core/area.Outline": "AreaOutline", "core/area.Point": "AreaPoint",
	"server/checks.Value": "MeasuredValue", "core/view.Measured": "MeasuredPoint",
	"server/checks.Concern": "AttentionLine",
	"core/substance.Act":    "SubstanceAct", "core/substance.Machine": "SubstanceMachine", "core/substance.Move": "SubstanceMove",
	"core/formula.Node": "FormulaNode", "core/sheet.Change": "SheetChange", "core/sheet.Problem": "SheetProblem",
	"core/sheet.Test": "SheetTest", "core/sheet.Compare": "SheetCompare", "core/sheet.Paper": "SheetPaper",
	"core/sheet.Missing": "MissingAnswer", "core/sheet.Score": "SheetScore", "core/sheet.Pick": "PartPick",
	"core/view.Judge": "JudgeValue", "core/work.Moment": "PhotoMoment", "server/standin.Line": "BookedLine",
	"server/hours.Page": "HoursPage", "server/hours.Range": "DateRange", "server/hours.Person": "HoursPerson",
	"server/hours.Day": "HoursDay", "server/hours.Sum": "HoursSum", "server/store.Found": "FoundRecords",
	"server/store.Hit": "FoundRecord", "server/store.Column": "ListColumn", "server/store.Filter": "ListFilter",
	"server/hours.Visit": "HoursVisit", "server/hours.Order": "HoursOrder",
	"server/hours.Share": "HoursShare", "server/hours.Report": "PostReport", "server/store.Sent": "SentMessage",
	"server/office.Field": "ConflictField", "server/office.Phoned": "PhonedBy",
	"server/syncing.Verdict": "HeldVerdict", "core/labor.Class": "PayClass",
	"core/roads.Class": "RoadClass", "core/roads.Part": "WayPart", "core/roads.Piece": "WayPiece",
	"core/roads.Known": "KnownWay", "core/roads.Answers": "KnownWays", "core/records.Template": "MessageTemplate",
	"core/records.Point": "MapPoint", "core/work.Message": "VisitMessage", "core/work.Request": "PartRequest",
	"core/labor.Day": "TimeDay", "core/labor.Crew": "CrewSpans", "core/signoff.Line": "SummaryLine", "core/view.Visit": "VisitView",
	"core/ledger.Draft": "DraftPlan",
	"core/ledger.Move":  "VisitMove", "core/ledger.Plan": "VisitPlan", "core/replica.Identified": "ShownIdentity",
	"server/addresses.Found": "AddressFound", "server/addresses.Precision": "AddressPrecision",
	"core/calendar.Absence": "OffTime", "core/calendar.Answer": "OffAnswer", "core/calendar.State": "OffState",
	"core/calendar.Stretch": "HourStretch",
	"core/calendar.Week":    "WeekHours", "core/plan.Settings": "PlanSettings", "core/plan.Area": "MapArea",
	"core/plan.Day": "PlanDay", "core/plan.Lane": "PlanLane", "core/plan.Want": "PlanWant", "core/plan.Placed": "PlanStop",
	"core/plan.Span": "PlanSpan", "core/plan.Course": "PlanCourse", "core/plan.Fit": "PlanFit",
	"core/plan.Question": "FitQuestion"}

type printer struct {
	done     map[reflect.Type]bool
	names    map[string]reflect.Type
	queue    []reflect.Type
	comments map[string]string
}

func main() {
	comments, err := readComments("core", "server")
	if err != nil {
		fmt.Fprintln(os.Stderr, "tsgen:", err)
		os.Exit(1)
	}
	p := &printer{done: map[reflect.Type]bool{}, names: map[string]reflect.Type{}, comments: comments}
	fmt.Println("// Code generated by tools/tsgen from the Go types. DO NOT EDIT; run make types.")
	fmt.Println("\n/** An exact decimal, as text. */\nexport type Decimal = string;\n/** A moment, as RFC 3339. */\n" +
		"export type Moment = string;")
	fmt.Println("\n/** The bodies of entries, by their kind. */\nexport interface EntryBodies {")
	for _, k := range ledger.KindRows() {
		fmt.Printf("  %q: %s;\n", k.Name, p.typ(k.Body))
	}
	fmt.Println("}\n\nexport type EntryKind = keyof EntryBodies;")
	fmt.Println("\n/** The bodies of documents, by their type. */\nexport interface Documents {")
	for _, t := range ledger.Types() {
		if t.Doc != nil {
			fmt.Printf("  %s: %s;\n", t.Name, p.typ(t.Doc))
		}
	}
	fmt.Printf("  history: %s;\n}\n", p.typ(reflect.TypeFor[view.SiteHistory]()))
	fmt.Println("\n/** An entry of one of the kinds, before it has its id. */")
	fmt.Println("export type EntryDraft = { [K in EntryKind]: { kind: K; subject: Ref; body: EntryBodies[K]; " +
		"base?: unknown; phoned?: PhonedBy } }[EntryKind];")
	fmt.Println("\n/** The functions of the core. */\nexport interface CoreFunctions {")
	for _, f := range bridge.Functions() {
		fmt.Printf("  %s: (q: %s) => %s;\n", f.Name, p.typ(f.In), p.typ(f.Out))
	}
	fmt.Println("}")
	p.routes()
	for _, r := range roots {
		p.use(reflect.TypeOf(r))
	}
	for len(p.queue) > 0 {
		t := p.queue[0]
		p.queue = p.queue[1:]
		p.print(t)
	}
}

func (p *printer) name(t reflect.Type) string {
	key := strings.TrimPrefix(t.PkgPath(), "iter.example/iter/") + "." + t.Name()
	n, ok := rename[key]
	if !ok {
		n = prefixed[t.PkgPath()] + t.Name()
	}
	if other, taken := p.names[n]; taken && other != t {
		fmt.Fprintf(os.Stderr, "tsgen: %s and %s are both called %s\n", other, t, n)
		os.Exit(1)
	}
	p.names[n] = t
	return n
}

func (p *printer) use(t reflect.Type) string {
	n := p.name(t)
	if !p.done[t] {
		p.done[t] = true
		p.queue = append(p.queue, t)
	}
	return n
}

func (p *printer) print(t reflect.Type) {
	fmt.Printf("\n%s", comment("", p.comments[t.PkgPath()+"."+t.Name()]))
	if v, ok := reflect.Zero(t).Interface().(interface{ Values() []string }); ok {
		var quoted []string
		for _, s := range v.Values() {
			quoted = append(quoted, fmt.Sprintf("%q", s))
		}
		fmt.Printf("export type %s = %s;\n", p.name(t), strings.Join(quoted, " | "))
		return
	}
	if t.Kind() != reflect.Struct {
		fmt.Printf("export type %s = %s;\n", p.name(t), p.typ(t.Elem())+"[]")
		return
	}
	fmt.Printf("export interface %s {\n", p.name(t))
	p.fields(t)
	fmt.Println("}")
}

func (p *printer) fields(t reflect.Type) {
	for f := range t.Fields() {
		tag, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		switch {
		case f.Anonymous && tag == "":
			p.fields(f.Type)
			continue
		case !f.IsExported() || tag == "-":
			continue
		case tag == "":
			tag = f.Name
		}
		mark := ""
		if strings.Contains(f.Tag.Get("json"), ",omit") {
			mark = "?"
		}
		typ := p.typ(f.Type)
		if mark == "" && f.Type.Kind() == reflect.Pointer {
			typ += " | null"
		}
		fmt.Printf("%s  %s%s: %s;\n", comment("  ", p.comments[t.PkgPath()+"."+t.Name()+"."+f.Name]), tag, mark, typ)
	}
}

func (p *printer) typ(t reflect.Type) string {
	switch t {
	case reflect.TypeFor[time.Time]():
		return "Moment"
	case reflect.TypeFor[decimal.Decimal]():
		return "Decimal"
	case reflect.TypeFor[json.RawMessage](), reflect.TypeFor[struct{}]():
		return "unknown"
	case reflect.TypeFor[bridge.Nothing]():
		return "null"
	}
	if t.PkgPath() != "" && (t.Kind() == reflect.Struct || t.Implements(reflect.TypeFor[interface{ Values() []string }]()) ||
		t.Kind() == reflect.Slice) {
		return p.use(t)
	}
	switch t.Kind() {
	case reflect.Pointer:
		return p.typ(t.Elem())
	case reflect.Slice:
		return p.typ(t.Elem()) + "[]"
	case reflect.Array:
		return "[" + strings.TrimSuffix(strings.Repeat(p.typ(t.Elem())+", ", t.Len()), ", ") + "]"
	case reflect.Map:
		return "Record<string, " + p.typ(t.Elem()) + ">"
	case reflect.Bool:
		return "boolean"
	case reflect.String:
		return "string"
	case reflect.Struct:
		return "unknown"
	}
	return "number"
}
