// Package unsent takes in files of unsent work: the last resort of a device that can't reach the office any other way.
//
// A file is lines of JSON: first {"iter":"unsent","v":2,"person":…,"replica":…,"saved":…}, then one line for each entry,
// {"entry":{…}}, then {"signed":…}, and for each file, {"file":{"hash":…,"name":…,"type":…,"size":…},"data":"…"} with its content in base
// 64. Signed is the device's ECDSA signature (P-256, SHA-256, r and s one after the other, in base 64) of all lines before it, each with
// its line feed: only the device that the work is of can make such a file. A device that has told the office no key, since its program
// is older, saves version 1, without that line. Files need no signature, since their names are their hashes.
//
// Only facts from the field count that way, and who took the file in is kept with them. Taking in is idempotent: what has arrived
// before, by this way or another, changes nothing.
package unsent

import (
	"bufio"
	"bytes"
	"context"
	"crypto/ecdsa"
	"crypto/sha256"
	"crypto/x509"
	"encoding/base64"
	"encoding/json"
	"errors"
	"io"
	"math/big"
	"slices"
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
const maxLine = records.MaxFile/3*4 + 4096

// maxEntries and maxEntry bound the entries of a file, which are held in memory until its signature has come: their number, and the bytes
// of the line of one.
const (
	maxEntries = 20_000
	maxEntry   = 2*ledger.MaxBody + 8192
)

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
	Entry  *ledger.Entry `json:"entry"`
	Signed string        `json:"signed"`
	File   *work.FileRef `json:"file"`
	Data   string        `json:"data"`
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

// Read takes in a file of unsent work that somebody brought. What it has taken before an error stays taken: the file can be given
// again, whole.
func Read(ctx context.Context, s *store.Store, d *files.Dir, broughtBy string, r io.Reader, now time.Time) (Report, error) {
	var out Report
	in := bufio.NewReaderSize(r, 64<<10)
	sum := sha256.New()
	first, err := readLine(in)
	if err != nil && !errors.Is(err, io.EOF) {
		return out, err
	}
	var h header
	if json.Unmarshal(first, &h) != nil || h.Iter != "unsent" {
		return out, msg.New("unsent.not_ours")
	}
	if h.V != 1 && h.V != 2 {
		return out, msg.New("unsent.version", "version", strconv.Itoa(h.V))
	}
	who, key, err := owner(ctx, s, h)
	if err != nil {
		return out, err
	}
	out.Person, out.Saved = who.Person.Name, h.Saved
	sum.Write(append(first, '\n'))

	var entries []ledger.Entry
	signed := false
	// takeAll takes the entries read so far, when they are signed as they must be.
	takeAll := func() error {
		if key != "" && !signed {
			return msg.New("unsent.signature")
		}
		all := entries
		entries = nil
		return out.take(all, func(batch []ledger.Entry) ([]replica.Receipt, error) {
			return syncing.TakeFile(ctx, s, who, h.Replica, broughtBy, batch, now)
		})
	}
	for n := 2; ; n++ {
		raw, err := readLine(in)
		end := errors.Is(err, io.EOF)
		if err != nil && !end {
			return out, err
		}
		if end && len(raw) == 0 {
			break
		}
		var l line
		bad := json.Unmarshal(raw, &l) != nil
		switch {
		case bad, l.Entry != nil && (signed || len(raw) > maxEntry), l.Entry == nil && l.File == nil && l.Signed == "":
			return out, msg.New("unsent.line", "line", strconv.Itoa(n))
		case l.Entry != nil:
			if entries = append(entries, *l.Entry); len(entries) > maxEntries {
				return out, msg.New("unsent.many", "max", strconv.Itoa(maxEntries))
			}
			sum.Write(append(raw, '\n'))
			continue
		case l.Signed != "":
			if !verify(key, sum.Sum(nil), l.Signed) {
				return out, msg.New("unsent.signature")
			}
			signed = true
			continue
		}
		// Files come after the entries that mention them.
		if err := takeAll(); err != nil {
			return out, err
		}
		if err := file(ctx, s, d, l, h.Person, now); err == nil {
			out.Files++
		} else if isCode(err) {
			out.BadFiles++
		} else {
			return out, err
		}
	}
	err = takeAll()
	return out, err
}

// owner finds whose device a file is of, and the device's public key when it has told one.
func owner(ctx context.Context, s *store.Store, h header) (syncing.Device, string, error) {
	who := syncing.Device{PersonID: h.Person, Agent: "file"}
	var key string
	err := s.Read(ctx, func(tx *store.Tx) error {
		known, err := tx.Load("person", h.Person, &who.Person)
		if err != nil {
			return err
		}
		if !known {
			return msg.New("record.unknown", "type", "person", "id", records.Clip(h.Person))
		}
		d, known, err := tx.Device(h.Replica)
		if err != nil {
			return err
		}
		if !known || d.Person != h.Person {
			return msg.New("unsent.device", "person", who.Person.Name)
		}
		key = d.Key
		return nil
	})
	return who, key, err
}

// take hands over entries, and counts what came of them.
func (out *Report) take(entries []ledger.Entry, to func([]ledger.Entry) ([]replica.Receipt, error)) error {
	for batch := range slices.Chunk(entries, replica.MaxEntries) {
		receipts, err := to(batch)
		if err != nil {
			return err
		}
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
	}
	return nil
}

// verify tells whether a digest was signed with the private half of a key.
func verify(key string, digest []byte, signature string) bool {
	der, err := base64.StdEncoding.DecodeString(key)
	if err != nil {
		return false
	}
	public, err := x509.ParsePKIXPublicKey(der)
	if err != nil {
		return false
	}
	ec, ok := public.(*ecdsa.PublicKey)
	raw, err := base64.StdEncoding.DecodeString(signature)
	if !ok || err != nil || len(raw) != 64 {
		return false
	}
	return ecdsa.Verify(ec, digest, new(big.Int).SetBytes(raw[:32]), new(big.Int).SetBytes(raw[32:]))
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
