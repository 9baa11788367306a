package bridge

import (
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/view"
)

var visitFunctions = functions{
	"visit": with(func(in Visit) (Viewed, error) {
		docs := in.ask()
		v, wanted, err := view.Of(in.ID, docs, in.now())
		return Viewed{docs.and(wanted), v}, err
	}),
	"report": with(func(in Report) (Reported, error) {
		docs := in.ask()
		r, wanted, err := view.ReportOf(in.ID, docs, in.now(), in.Wish)
		if err != nil {
			return Reported{}, err
		}
		out := Reported{Asked: docs.and(wanted), Report: r}
		if r != nil {
			if out.Digest, err = r.Digest(); err != nil {
				return Reported{}, err
			}
			out.Code = report.Code(out.Digest)
		}
		return out, nil
	}),
	"summary": with(func(in Summary) (Summed, error) {
		docs := in.ask()
		s, digest, wanted, err := view.SummaryOf(in.ID, docs, in.now(), in.Day)
		return Summed{docs.and(wanted), s, digest}, err
	}),
	"history": with(func(in History) (Earlier, error) {
		docs := in.ask()
		lines, wanted, err := view.HistoryAt(in.Site, docs)
		return Earlier{docs.and(wanted), lines}, err
	}),
	"unread":  with(func(in Unread) (int, error) { return in.Talk.Unread(in.Reader), nil }),
	"message": with(func(in Message) (string, error) { return in.Template.Fill(in.Values), nil }),
	"strokes": with(func(in signoff.Strokes) (Nothing, error) { return nil, in.CheckDrawn() }),
}

// Visit asks for the view of a visit.
type Visit struct {
	Moment
	ID string `json:"id"`
}

// Viewed is a view.
type Viewed struct {
	Asked
	Visit *view.Visit `json:"visit"`
}

// Report asks for what a service report of a visit says.
type Report struct {
	Visit
	Wish view.Wish `json:"wish"`
}

// Reported is what it says, with its digest and code.
type Reported struct {
	Asked
	Report *report.Report `json:"report,omitempty"`
	Digest string         `json:"digest,omitempty"`
	Code   string         `json:"code,omitempty"`
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

// Summed is that.
type Summed struct {
	Asked
	Summary signoff.Summary `json:"summary"`
	Digest  string          `json:"digest"`
}

// History asks for what was done at a site before.
type History struct {
	Moment
	Site string `json:"site"`
}

// Earlier is that.
type Earlier struct {
	Asked
	Lines []view.EarlierLine `json:"lines"`
}

// Message asks for a message to a customer, filled in.
type Message struct {
	Template records.Template  `json:"template"`
	Values   map[string]string `json:"values"`
}
