// Package reports prints the service reports that were made, at the office as on the phone, and tells whether a paper is one of them.
package reports

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"regexp"
	"sync"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/report"
	"iter.example/iter/core/report/printing"
	"iter.example/iter/core/work"
	"iter.example/iter/server/files"
	"iter.example/iter/server/store"
)

// Printer prints reports from what is kept.
type Printer struct {
	Store *store.Store
	Files *files.Dir
}

// Paper gives a report as PDF: as it was printed the first time, once all its photos are here. From then on it is kept, whatever a later
// program would print. The error is "report.unknown", or "report.photo_awaited" while photos are on their way.
func (p Printer) Paper(ctx context.Context, entry string) (pdf []byte, name string, err error) {
	var r ledger.Report
	err = p.Store.Read(ctx, func(tx *store.Tx) error {
		ok, err := tx.Load("report", entry, &r)
		if err == nil && !ok {
			err = msg.New("report.unknown")
		}
		return err
	})
	if err != nil {
		return nil, "", err
	}
	name = fmt.Sprintf("report-%s-%s.pdf", r.Report.Order, r.Report.At.Format(time.DateOnly))
	if pdf, err = p.Files.Read(r.PDF); err == nil {
		return pdf, name, nil
	}
	if pdf, err = p.Print(r.Report); err != nil {
		return nil, "", err
	}
	if sum := hashOf(pdf); sum != r.PDF { // another program prints it another way: what it says is the same
		return pdf, name, nil
	}
	_, err = p.Files.TakeFrom(bytes.NewReader(pdf), r.PDF)
	return pdf, name, err
}

// onePrinter lets one report be printed at a time: its pictures are in memory, some of them decoded.
var onePrinter sync.Mutex

// Print prints what a report says.
func (p Printer) Print(r report.Report) ([]byte, error) {
	onePrinter.Lock()
	defer onePrinter.Unlock()
	pictures := map[string][]byte{}
	for _, hash := range r.Files() {
		raw, err := p.Files.Read(hash)
		if errors.Is(err, fs.ErrNotExist) {
			continue // paper says how many are missing
		}
		if err != nil {
			return nil, fmt.Errorf("report of %s: %w", r.Order, err)
		}
		if err := files.CheckPicture(bytes.NewReader(raw)); err != nil {
			return nil, err
		}
		pictures[hash] = raw
	}
	return printing.Print(r, pictures)
}

// Checked is what the page says to somebody who checks a report.
type Checked struct {
	// Same tells of a paper that it is as it was made, to the last byte. Of a code it says nothing.
	Same bool `json:"same"`
	// Known tells whether a report with that code was made here.
	Known bool      `json:"known"`
	Code  string    `json:"code,omitempty"`
	Firm  string    `json:"firm,omitempty"`
	Order string    `json:"order,omitempty"`
	Site  string    `json:"site,omitempty"`
	At    time.Time `json:"at,omitzero"`
	By    string    `json:"by,omitempty"`
	// Signed are those whose signatures are on it, and Parts and Photos how many there are.
	Signed []string `json:"signed"`
	Parts  int      `json:"parts"`
	Photos int      `json:"photos"`
	// Struck tells that whoever made it took it back, and Newer that there is a later one of the same visit.
	Struck bool `json:"struck,omitempty"`
	Newer  bool `json:"newer,omitempty"`
}

// ByCode looks a code up as somebody typed it.
func ByCode(tx *store.Tx, typed string) (Checked, error) {
	code := report.ReadCode(typed)
	if code == "" {
		return Checked{}, msg.New("report.code")
	}
	return checked(tx, "code", code)
}

// digestIn finds the digest that a report carries in itself.
var digestIn = regexp.MustCompile(`/Subject \(([0-9a-f]{64})\)`)

// ByPaper says whether a PDF is as it was made. One that was changed is known by the digest it carries.
func ByPaper(tx *store.Tx, pdf []byte) (Checked, error) {
	out, err := checked(tx, "pdf", hashOf(pdf))
	if out.Known || err != nil {
		out.Same = out.Known
		return out, err
	}
	found := digestIn.FindSubmatch(pdf)
	if found == nil {
		return out, nil
	}
	return checked(tx, "code", report.Code(string(found[1])))
}

func checked(tx *store.Tx, column, value string) (Checked, error) {
	out := Checked{Signed: []string{}}
	line, ok, err := tx.ReportBy(column, value)
	if err != nil || !ok {
		return out, err
	}
	var r ledger.Report
	if _, err := tx.Load("report", line.Entry, &r); err != nil {
		return out, err
	}
	out.Known, out.Code, out.Struck = true, line.Code, line.Struck
	out.Firm, out.Order, out.Site, out.At, out.By = r.Report.Firm.Name, r.Report.Order, r.Report.Site, r.Report.At, r.Report.By
	out.Parts, out.Photos = len(r.Report.Parts), len(r.Report.Photos)
	for _, s := range r.Report.Signatures {
		out.Signed = append(out.Signed, s.Name)
	}
	var v work.Visit
	if _, err := tx.Load("visit", line.Visit, &v); err != nil {
		return out, err
	}
	for _, other := range v.Reports {
		out.Newer = out.Newer || (!other.Struck && other.At.After(r.Report.At) && other.Entry != line.Entry)
	}
	return out, nil
}

func hashOf(raw []byte) string {
	sum := sha256.Sum256(raw)
	return hex.EncodeToString(sum[:])
}
