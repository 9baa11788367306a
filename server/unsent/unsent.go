// Package unsent takes in files of unsent work: the last resort of a device that can't reach the office any other way.
//
// A file is lines of JSON: first {"iter":"unsent","v":1,"person":…,"replica":…,"saved":…}, then one line for each entry,
// {"entry":{…}}, and for each file, {"file":{"hash":…,"name":…,"type":…,"size":…},"data":"…"} with its content in base 64.
// Taking in is idempotent: what has arrived before, by this way or another, changes nothing.
package unsent

import (
	"bufio"
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"errors"
	"io"
	"strconv"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/work"
	"iter.example/iter/server/files"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

// MaxSize is the largest file of unsent work, in bytes.
const MaxSize = 2 << 30

// maxLine is the longest line: a file of the largest size in base 64, and what is around it.
const maxLine = work.MaxFile/3*4 + 4096

// header is the first line.
type header struct {
	Iter    string    `json:"iter"`
	V       int       `json:"v"`
	Person  string    `json:"person"`
	Replica string    `json:"replica"`
	Saved   time.Time `json:"saved"`
}

// line is any other.
type line struct {
	Entry *ledger.Entry `json:"entry"`
	File  *work.FileRef `json:"file"`
	Data  string        `json:"data"`
}

// Report says what came of a file of unsent work.
type Report struct {
	Person    string    `json:"person"` // name
	Saved     time.Time `json:"saved"`
	Taken     int       `json:"taken"`
	Duplicate int       `json:"duplicate"` // that had arrived before
	Held      int       `json:"held"`
	Files     int       `json:"files"`
	BadFiles  int       `json:"badFiles"` // whose content is not what their name says
}

// Read takes in a file of unsent work. What it has taken before an error stays taken: the file can be given again, whole.
func Read(ctx context.Context, s *store.Store, d *files.Dir, by string, r io.Reader, now time.Time) (Report, error) {
	var out Report
	in := bufio.NewReaderSize(r, 64<<10)
	first, err := readLine(in)
	if err != nil && !errors.Is(err, io.EOF) {
		return out, err
	}
	var h header
	if json.Unmarshal(first, &h) != nil || h.Iter != "unsent" {
		return out, msg.New("unsent.not_ours")
	}
	if h.V != 1 {
		return out, msg.New("unsent.version", "version", strconv.Itoa(h.V))
	}
	who := syncing.Device{PersonID: h.Person, Agent: "file"}
	var known bool
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		known, err = tx.Load("person", h.Person, &who.Person)
		return err
	})
	if err != nil {
		return out, err
	}
	if !known {
		return out, msg.New("record.unknown", "type", "person", "id", records.Clip(h.Person))
	}
	out.Person, out.Saved = who.Person.Name, h.Saved
	var batch []ledger.Entry
	flush := func() error {
		receipts, err := syncing.TakeFile(ctx, s, who, h.Replica, by, batch, now)
		batch = nil
		for _, x := range receipts {
			switch x.Verdict {
			case replica.Taken:
				out.Taken++
			case replica.Duplicate:
				out.Duplicate++
			default:
				out.Held++
			}
		}
		return err
	}
	for n := 2; ; n++ {
		raw, err := readLine(in)
		if errors.Is(err, io.EOF) && len(raw) == 0 {
			return out, flush()
		}
		if err != nil && !errors.Is(err, io.EOF) {
			return out, errors.Join(flush(), err)
		}
		var l line
		if json.Unmarshal(raw, &l) != nil || (l.Entry == nil) == (l.File == nil) {
			return out, errors.Join(flush(), msg.New("unsent.line", "line", strconv.Itoa(n)))
		}
		if l.Entry != nil {
			if batch = append(batch, *l.Entry); len(batch) == replica.MaxEntries {
				if err := flush(); err != nil {
					return out, err
				}
			}
			continue
		}
		if err := flush(); err != nil { // files come after the entries that mention them
			return out, err
		}
		switch err := file(ctx, s, d, l, h.Person, now); {
		case err == nil:
			out.Files++
		case isCode(err):
			out.BadFiles++
		default:
			return out, err
		}
	}
}

func isCode(err error) bool {
	_, ok := errors.AsType[*msg.Code](err)
	return ok
}

// file takes in one file.
func file(ctx context.Context, s *store.Store, d *files.Dir, l line, person string, now time.Time) error {
	if err := l.File.Check(); err != nil {
		return err
	}
	data, err := base64.StdEncoding.DecodeString(l.Data)
	if err != nil {
		return msg.New("file.hash")
	}
	f, err := d.TakeFrom(bytes.NewReader(data), l.File.Hash)
	if err != nil {
		return err
	}
	f.Person, f.Received = person, now
	return s.Write(ctx, func(tx *store.Tx) error { return tx.PutFile(f) })
}

// readLine reads to the end of a line, which it leaves out, or of the file; then the error is io.EOF.
func readLine(r *bufio.Reader) ([]byte, error) {
	var out []byte
	for {
		part, err := r.ReadSlice('\n')
		if len(out)+len(part) > maxLine {
			return nil, msg.New("unsent.long")
		}
		out = append(out, part...)
		if !errors.Is(err, bufio.ErrBufferFull) {
			return bytes.TrimSpace(out), err
		}
	}
}
