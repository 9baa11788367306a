package demo

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"image"
	"image/color"
	"image/png"
	"math"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/report/printing"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// paper says what the firm's reports look like.
func (g *generator) paper(at time.Time) error {
	ref, err := keep(g.w.Tx, g.files, logo(), "logo.png", office[3][0], at)
	if err != nil {
		return err
	}
	g.settings.Reports = report.Settings{
		Lines: []string{"4 Slip Lane, Quay Sound", "Registered on the Vella coast, no. 20 417"},
		Close: "Questions about this report? Ring us, we know the pump.",
		Logo:  &report.Logo{Hash: ref.Hash, Type: ref.Type, Size: ref.Size},
	}
	g.settings.Visits.Ready = []work.Requirement{{Check: work.CheckAfter, Duty: work.Asked, Works: []string{"installation"}},
		{Check: work.CheckAnswers, Duty: work.Asked}}
	return nil
}

// logo draws the firm's mark: a drop in a waymark.
func logo() []byte {
	const side = 240
	img := image.NewRGBA(image.Rect(0, 0, side, side))
	ink, blaze := color.RGBA{24, 33, 38, 255}, color.RGBA{244, 185, 11, 255}
	for y := range side {
		for x := range side {
			dx, dy := math.Abs(float64(x)-side/2+0.5), float64(y)-side/2+0.5
			switch d := dx + math.Abs(dy); {
			case math.Hypot(dx, dy-18) < 40 || (dy < 18 && dy > -52 && dx < 40*(dy+52)/70):
				img.SetRGBA(x, y, blaze)
			case d < side/2-2:
				img.SetRGBA(x, y, ink)
			default:
				img.SetRGBA(x, y, color.RGBA{255, 255, 255, 255})
			}
		}
	}
	var out bytes.Buffer
	_ = png.Encode(&out, img) // a buffer takes all
	return out.Bytes()
}

// finish ends a visit: well, or with something to come back for.
func (p *performance) finish() error {
	b := ledger.Step{Outcome: work.Complete}
	if back := p.g.r.Intn(8) == 0; p.recent && (back || p.blocked) { // those before were come back to
		part := p.machine.parts[p.g.rare.Intn(len(p.machine.parts))]
		b = ledger.Step{Outcome: work.ReturnNeeded, Reason: "part", Order: p.order, Needed: &work.Needed{
			Needs: []work.Need{{Part: part, Quantity: decimal.NewFromInt(1)}}, Skills: p.machine.skills, Minutes: 45 + 15*p.g.rare.Intn(4),
			Note: pick(p.g.rare, "Isolator is locked off, key with the contact.", "Bring two people for the lid.",
				"The old one is held with a clamp: it will do for a week.")}}
	}
	return p.step("finished", b)
}

// endings makes what is left when visits are over: reports, a word with the office, a question, something added after the signature.
func (g *generator) endings() error {
	ids, err := g.w.Tx.Finished(60)
	if err != nil {
		return err
	}
	reports, asked, added, recommended := 0, false, false, 0
	for i, id := range ids {
		var v work.Visit
		if _, err := g.w.Tx.Load("visit", id, &v); err != nil {
			return err
		}
		var o work.Order
		if _, err := g.w.Tx.Load("workorder", v.Order, &o); err != nil {
			return err
		}
		ref := ledger.Ref{Type: "visit", ID: id}
		at := g.local(v.Ended().Add(4 * time.Minute))
		if at.After(g.now) {
			continue
		}
		by := g.by(v.Technician, at)
		say := func(kind string, subject ledger.Ref, body any) (ledger.Entry, error) {
			at = at.Add(40 * time.Second)
			by.Now = at.Add(2 * time.Second)
			return by.Append(kind, subject, v.Technician, at, body, nil)
		}
		if v.Signed() && recommended < 4 && i%3 == 0 {
			recommended++
			p, err := say("work.proposed", ref, ledger.Proposed{Kind: work.Recommendation,
				Text: "The coupling is worn: change it with the next service.", Asset: o.Asset, Lines: []work.ProposalLine{
					{Text: "Coupling insert 20", Part: "CP-20", Quantity: decimal.NewFromInt(1), Unit: "each", Price: dec("12.60")},
					{Text: "Labour", Quantity: decimal.RequireFromString("1.5"), Unit: "h"}}})
			if err != nil {
				return err
			}
			answers := [][]work.Answer{{work.Taken, work.Taken}, {work.Left, work.Unanswered}, {work.Unanswered, work.Unanswered},
				{work.Taken, work.Unanswered}}
			if recommended < 3 {
				if _, err := say("proposal.answered", ref, ledger.ProposalAnswered{Proposal: p.ID, Answers: answers[recommended-1],
					Name: v.Signatures[0].Name}); err != nil {
					return err
				}
			}
		}
		if v.Signed() && reports < 8 && i%2 == 0 {
			reports++
			if err := g.report(ref, v, at.Add(time.Minute)); err != nil {
				return err
			}
			at = at.Add(2 * time.Minute)
		}
		if v.Signed() && !added && i > 2 {
			added = true
			if _, err := say("part.used", ref, ledger.Use{Part: "BT-10", Place: "van-" + v.Technician,
				Quantity: decimal.NewFromInt(1)}); err != nil {
				return err
			}
		}
		if !asked && v.Technician == technicians[0][0] && at.Before(g.now.Add(-30*time.Minute)) {
			asked = true
			if _, err := g.w.Append("visit.questioned", ref, office[1][0], g.local(g.now.Add(-25*time.Minute)),
				ledger.Questioned{Text: "Was the old seal kept for the maker? They ask for it before they credit it."}, nil); err != nil {
				return err
			}
		}
		if i%7 == 3 {
			if _, err := say("note.written", ref, ledger.Note{Text: "Contact has a new number, please ring before the next visit.",
				Office: true}); err != nil {
				return err
			}
		}
	}
	return g.talk()
}

// talk has the office and those in the field say something about the work of today.
func (g *generator) talk() error {
	ids, err := g.w.Tx.VisitsOn(g.local(g.now).Format(time.DateOnly))
	if err != nil {
		return err
	}
	lines := []struct {
		office bool
		text   string
	}{
		{false, "The key at the gatehouse does not fit any more. Whom do I ring?"},
		{true, "Ring the duty engineer, the number is on the site's record. They know you are coming."},
		{false, "Done, thank you. I am in."},
	}
	first := technicians[0][0]
	seen, talks := map[string]int{}, 0
	for _, id := range ids {
		var v work.Visit
		if _, err := g.w.Tx.Load("visit", id, &v); err != nil {
			return err
		}
		seen[v.Technician]++
		if seen[v.Technician] != 2 || v.SentAt.IsZero() || talks > 5 || v.Technician == "" {
			continue
		}
		talks++
		until := talks % 3 // how far the conversation went
		if v.Technician == first {
			until = 1
		}
		at := g.local(g.now.Add(-70 * time.Minute))
		for _, l := range lines[:until+1] {
			at = at.Add(6 * time.Minute)
			w, who := g.by(v.Technician, at), v.Technician
			if l.office {
				w, who = g.w, office[0][0]
			}
			if _, err := w.Append("talk.said", ledger.TalkRef(v.Order), who, at,
				ledger.TalkSaid{Text: l.text, Visit: id, Office: l.office}, nil); err != nil {
				return err
			}
		}
	}
	return nil
}

// report makes a service report as a phone does.
func (g *generator) report(visit ledger.Ref, v work.Visit, at time.Time) error {
	at = g.local(at.Truncate(time.Second))
	wish := view.Wish{Layout: report.Layout(pick(g.rare, "full", "full", "short", "photos")), By: nameOf(v.Technician),
		CheckAt: "http://127.0.0.1:8420/check/",
		Words: map[string]string{string(work.Complete): "Complete", string(work.ReturnNeeded): "Return needed",
			string(work.NoAccess):  "No access",
			string(work.NotNeeded): "Not needed"}}
	r, err := store.Wanting(g.w.Tx, ledger.Docs{}, func(docs ledger.Docs) (*report.Report, []ledger.Ref, error) {
		return view.ReportOf(visit.ID, docs, at, wish)
	})
	if err != nil {
		return err
	}
	digest, err := r.Digest()
	if err != nil {
		return err
	}
	pictures := map[string][]byte{}
	for _, hash := range r.Files() {
		if pictures[hash], err = g.files.Read(hash); err != nil {
			return err
		}
	}
	pdf, err := printing.Print(*r, pictures)
	if err != nil {
		return err
	}
	sum := sha256.Sum256(pdf)
	by := g.by(v.Technician, at)
	made, err := by.Append("report.made", visit, v.Technician, at, ledger.ReportMade{Report: *r, Digest: digest,
		PDF: hex.EncodeToString(sum[:]), Size: int64(len(pdf))}, nil)
	if err != nil {
		return err
	}
	var o work.Order
	if _, err := g.w.Tx.Load("workorder", v.Order, &o); err != nil {
		return err
	}
	var site records.Site
	if _, err := g.w.Tx.Load("site", o.Site, &site); err != nil {
		return err
	}
	_, err = by.Append("report.sent", visit, v.Technician, at.Add(30*time.Second),
		ledger.ReportSent{Report: made.ID, To: site.Contact.Phone, Text: "Here is the report of our visit today."}, nil)
	return err
}
