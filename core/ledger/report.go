package ledger

import (
	"slices"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/work"
)

func reportKinds() table {
	return table{
		"report.made": row[ReportMade]{subject: "visit", office: judges, field: true, beside: true, check: checkReportMade,
			keys: func(e Entry, _ ReportMade) []Ref { return []Ref{ReportRef(e.ID)} }, apply: reportMade,
			strike: strikeLine(func(v *work.Visit) []work.Report { return v.Reports })}.kind(),
		"report.sent": row[ReportSent]{subject: "visit", office: judges, field: true, beside: true, sends: true, check: checkReportSent,
			apply: reportSent, final: "the customer has it"}.kind(),
	}
}

// ReportMade is the body of report.made: what a service report of the visit says, and the hash of it as PDF.
type ReportMade struct {
	Report report.Report `json:"report"`
	Digest string        `json:"digest"`
	PDF    string        `json:"pdf"` // SHA-256
	Size   int64         `json:"size"`
}

// ReportSent is the body of report.sent: somebody is to be sent a report.
type ReportSent struct {
	Report string `json:"report"` // the entry that made it
	To     string `json:"to"`     // an e-mail address or a telephone number
	Text   string `json:"text,omitempty"`
}

// Report is a service report as it is kept: the visit it is of, and what it says.
type Report struct {
	Visit string `json:"visit"`
	ReportMade
}

// ReportRef names a report by the entry that made it.
func ReportRef(entry string) Ref { return Ref{"report", entry} }

func checkReportMade(b ReportMade) error {
	if err := b.Report.Check(); err != nil {
		return err
	}
	if err := records.CheckHash(b.PDF); err != nil {
		return err
	}
	if d, err := b.Report.Digest(); err != nil || d != b.Digest {
		return msg.New("report.digest")
	}
	if b.Size < 1 || b.Size > records.MaxFile {
		return msg.New("file.size", "max", "64")
	}
	return nil
}

func reportMade(t *tx, e Entry, b ReportMade) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	v.Reports = audit.Add(v.Reports, work.Report{Line: e.line(), Layout: string(b.Report.Layout), Code: report.Code(b.Digest),
		PDF: b.PDF, Size: b.Size})
	t.save(ReportRef(e.ID), Report{Visit: e.Subject.ID, ReportMade: b})
	t.save(e.Subject, v)
	return nil
}

func checkReportSent(b ReportSent) error {
	if err := records.CheckID(b.Report); err != nil {
		return err
	}
	if err := records.CheckText("text", b.Text, false, 1000); err != nil {
		return err
	}
	return records.CheckText("to", b.To, true, 200)
}

// reportSent asks the gateway for a report to be sent: it is a message to the customer that has the report with it.
func reportSent(t *tx, e Entry, b ReportSent) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(v.Reports, func(r work.Report) bool { return r.Entry == b.Report && !r.Struck }) {
		return msg.New("report.unknown")
	}
	v.Messages = audit.Add(v.Messages, work.Message{Line: e.line(), To: b.To, Text: b.Text, Report: b.Report})
	t.save(e.Subject, v)
	return nil
}
