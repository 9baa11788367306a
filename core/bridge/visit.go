package bridge

import (
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/view"
)

var visitFunctions = functions{
	"visit": with(func(in Visit) (Viewed, error) {
		v, wanted, err := view.Of(in.ID, bodies(in.Docs), in.Zone.In(time.UnixMilli(in.Now)))
		if err != nil {
			return Viewed{}, err
		}
		return Viewed{v, append([]ledger.Ref{}, wanted...)}, nil
	}),
	"report": with(func(in Report) (Reported, error) {
		r, wanted, err := view.ReportOf(in.ID, bodies(in.Docs), in.Zone.In(time.UnixMilli(in.Now)), in.Wish)
		if err != nil {
			return Reported{}, err
		}
		out := Reported{Report: r, Wanted: append([]ledger.Ref{}, wanted...)}
		if r != nil {
			if out.Digest, err = r.Digest(); err != nil {
				return Reported{}, err
			}
			out.Code = report.Code(out.Digest)
		}
		return out, nil
	}),
	"summary": with(func(in Summary) (Summed, error) {
		s, digest, wanted, err := view.SummaryOf(in.ID, bodies(in.Docs), in.Zone.In(time.UnixMilli(in.Now)), in.Day)
		return Summed{s, digest, append([]ledger.Ref{}, wanted...)}, err
	}),
	"history": with(func(in History) (Earlier, error) {
		lines, wanted, err := view.HistoryAt(in.Site, bodies(in.Docs))
		return Earlier{lines, append([]ledger.Ref{}, wanted...)}, err
	}),
	"unread":  with(func(in Unread) (int, error) { return in.Talk.Unread(in.Reader), nil }),
	"message": with(func(in Message) (string, error) { return in.Template.Fill(in.Values), nil }),
	"strokes": with(func(in signoff.Strokes) (Nothing, error) { return nil, in.CheckDrawn() }),
}

// Visit asks for the view of a visit. A document without a body is known not to be there.
type Visit struct {
	ID   string       `json:"id"`
	Docs []ledger.Doc `json:"docs"`
	Now  int64        `json:"now"` // milliseconds since 1970, on the server's clock
	Zone labor.Zone   `json:"zone"`
}

// Viewed is a view, or the documents to load first.
type Viewed struct {
	Visit  *view.Visit  `json:"visit"`
	Wanted []ledger.Ref `json:"wanted"`
}

// Report asks for what a service report of a visit says.
type Report struct {
	Visit
	Wish view.Wish `json:"wish"`
}

// Reported is what it says, with its digest and code, or the documents to load first.
type Reported struct {
	Report *report.Report `json:"report,omitempty"`
	Digest string         `json:"digest,omitempty"`
	Code   string         `json:"code,omitempty"`
	Wanted []ledger.Ref   `json:"wanted"`
}

// Unread asks how much of a conversation somebody has not read.
type Unread struct {
	Talk   talk.Talk `json:"talk"`
	Reader string    `json:"reader"`
}

// Summary asks for what a signer is shown of a visit, or of one day of it.
type Summary struct {
	Visit
	Day string `json:"day,omitempty"`
}

// Summed is that, or the documents to load first.
type Summed struct {
	Summary signoff.Summary `json:"summary"`
	Digest  string          `json:"digest"`
	Wanted  []ledger.Ref    `json:"wanted"`
}

// History asks for what was done at a site before.
type History struct {
	Site string       `json:"site"`
	Docs []ledger.Doc `json:"docs"`
}

// Earlier is that, or the documents to load first.
type Earlier struct {
	Lines  []view.EarlierLine `json:"lines"`
	Wanted []ledger.Ref       `json:"wanted"`
}

// Message asks for a message to a customer, filled in.
type Message struct {
	Template records.Template  `json:"template"`
	Values   map[string]string `json:"values"`
}
