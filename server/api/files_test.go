package api_test

import (
	"bytes"
	"compress/gzip"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/x509"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
	"iter.example/iter/server/unsent"
)

// photo is a picture as a phone takes it, and its hash.
func photo(t testing.TB, seed uint8) ([]byte, string) {
	img := image.NewRGBA(image.Rect(0, 0, 900, 600))
	for i := range img.Pix {
		img.Pix[i] = uint8(i)*seed + seed
	}
	img.Set(0, 0, color.White)
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, nil))
	return b.Bytes(), hashOf(b.Bytes())
}

func hashOf(raw []byte) string {
	h := sha256.Sum256(raw)
	return hex.EncodeToString(h[:])
}

// begin begins an upload and gives its address.
func (c *client) begin(hash string, size int) *http.Response {
	return c.send("POST", "/api/upload/", nil, "Tus-Resumable", "1.0.0", "Upload-Length", strconv.Itoa(size), "Upload-Metadata",
		"hash "+base64.StdEncoding.EncodeToString([]byte(hash)))
}

func (c *client) piece(at string, offset int, body io.Reader) *http.Response {
	return c.send("PATCH", at, body, "Tus-Resumable", "1.0.0", "Upload-Offset", strconv.Itoa(offset), "Content-Type",
		"application/offset+octet-stream")
}

// address is the path of an upload.
func address(t testing.TB, res *http.Response) string {
	require.Equal(t, http.StatusCreated, res.StatusCode)
	_, path, ok := strings.Cut(res.Header.Get("Location"), "/api/upload/")
	require.True(t, ok)
	return "/api/upload/" + path
}

// broken gives some of what it has, and then fails as a connection does.
type broken struct{ io.Reader }

func (b broken) Read(p []byte) (int, error) {
	n, err := b.Reader.Read(p)
	if err == io.EOF {
		err = io.ErrUnexpectedEOF
	}
	return n, err
}

// An upload that breaks twenty times goes on where it was, and the file is there once it is whole.
func TestAnUploadThatBreaks(t *testing.T) {
	p := start(t)
	c := p.client("ann")
	raw, hash := photo(t, 3)
	at := address(t, c.begin(hash, len(raw)))
	for i := range 20 {
		res := c.send("HEAD", at, nil, "Tus-Resumable", "1.0.0")
		require.Equal(t, http.StatusOK, res.StatusCode)
		offset, err := strconv.Atoi(res.Header.Get("Upload-Offset"))
		require.NoError(t, err)
		end := len(raw) * (i + 1) / 21
		r, err := http.NewRequest("PATCH", p.URL+at, broken{bytes.NewReader(raw[offset:end])})
		require.NoError(t, err)
		r.ContentLength = int64(len(raw) - offset)
		for name, value := range map[string]string{"Tus-Resumable": "1.0.0", "Upload-Offset": strconv.Itoa(offset),
			"Content-Type": "application/offset+octet-stream"} {
			r.Header.Set(name, value)
		}
		if res, err := c.http.Do(r); err == nil { // the server may have said something before it broke
			_ = res.Body.Close()
		}
	}
	assert.Equal(t, "file.not_here", problem(t, c.get("/api/files/"+hash), 404), "not before it is whole")
	for try := 1; ; try++ { // as a device does, which may come while the server still gives up on the last try
		res := c.send("HEAD", at, nil, "Tus-Resumable", "1.0.0")
		offset, err := strconv.Atoi(res.Header.Get("Upload-Offset"))
		require.NoError(t, err)
		assert.Greater(t, offset, len(raw)/2, "what had arrived was kept")
		if c.piece(at, offset, bytes.NewReader(raw[offset:])).StatusCode == http.StatusNoContent {
			break
		}
		require.Less(t, try, 5)
	}

	res := c.get("/api/files/" + hash)
	require.Equal(t, http.StatusOK, res.StatusCode)
	got, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.True(t, bytes.Equal(raw, got))
	assert.Equal(t, "image/jpeg", res.Header.Get("Content-Type"))
	small, err := jpeg.DecodeConfig(c.get("/api/files/" + hash + "?thumb").Body)
	require.NoError(t, err)
	assert.Equal(t, []int{400, 266}, []int{small.Width, small.Height})
	assert.Equal(t, http.StatusOK, c.send("HEAD", "/api/files/"+hash, nil).StatusCode)
	assert.Equal(t, http.StatusNotFound, c.send("HEAD", at, nil, "Tus-Resumable", "1.0.0").StatusCode, "nothing is left of the pieces")
	left, err := os.ReadDir(filepath.Join(p.store.Dir(), store.FilesDir, "partial"))
	require.NoError(t, err)
	assert.Empty(t, left)
	assert.Equal(t, "signin.needed", problem(t, p.client("").get("/api/files/"+hash), 401))
}

func TestFilesThatAreNotTaken(t *testing.T) {
	p := start(t)
	c := p.client("ann")
	raw, hash := photo(t, 5)
	send := func(hash string, body []byte) *http.Response {
		return c.piece(address(t, c.begin(hash, len(body))), 0, bytes.NewReader(body))
	}
	other := slicesClone(raw)
	other[len(other)-1]++
	assert.Equal(t, "file.hash", problem(t, send(hash, other), 422), "another content")
	page := []byte("<html><script>alert(1)</script></html>")
	assert.Equal(t, "file.type", problem(t, send(hashOf(page), page), 422), "a page that calls itself a photo")
	assert.Equal(t, "file.hash_unreadable", problem(t, c.begin("../../etc/passwd", 5), 422))
	assert.Equal(t, "file.size", problem(t, c.begin(hash, 0), 422))
	assert.Equal(t, http.StatusRequestEntityTooLarge, c.begin(hash, records.MaxFile+1).StatusCode)
	assert.Equal(t, "file.not_here", problem(t, c.get("/api/files/"+hash), 404))
	assert.Equal(t, "file.hash_unreadable", problem(t, c.get("/api/files/nonsense"), 404))
	require.Equal(t, http.StatusNoContent, send(hash, raw).StatusCode, "and then the right one is taken")
	require.Equal(t, http.StatusNoContent, send(hash, raw).StatusCode, "also twice")
	cut := raw[:len(raw)/2]
	require.Equal(t, http.StatusNoContent, send(hashOf(cut), cut).StatusCode, "half a photo is a file too, if that is what was taken")
}

func slicesClone(b []byte) []byte { return append([]byte(nil), b...) }

func (p *program) unsentFile(t testing.TB, person string, lines ...any) []byte {
	var b bytes.Buffer
	out := json.NewEncoder(&b)
	require.NoError(t, out.Encode(map[string]any{"iter": "unsent", "v": 1, "person": person, "replica": "phone", "saved": p.now}))
	for _, l := range lines {
		require.NoError(t, out.Encode(l))
	}
	return b.Bytes()
}

// Unsent work that was saved to a file is taken in once, however often and by whichever way it comes.
func TestUnsentWorkFromAFile(t *testing.T) {
	p := start(t)
	raw, hash := photo(t, 7)
	m := ledgertest.NewMaker("phone", 5)
	ref := work.FileRef{Hash: hash, Name: "seal.jpg", Type: "image/jpeg", Size: int64(len(raw))}
	note, picture := m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "from a file"}),
		m.Entry("ann", "file.attached", "visit", "V1", ledger.File{FileRef: ref})
	bad := m.Entry("ann", "note.written", "visit", "V9", ledger.Note{Text: "x"})
	type line = map[string]any
	file := p.unsentFile(t, "ann", line{"entry": note}, line{"entry": picture}, line{"entry": bad},
		line{"file": ref, "data": base64.StdEncoding.EncodeToString(raw)}, line{"file": ref, "data": "AAAA"})
	desk := p.client("a-dispatcher")
	post := func(body []byte) *http.Response {
		return desk.send("POST", "/api/office/unsent", bytes.NewReader(body))
	}
	assert.Equal(t, "unsent.device", problem(t, post(file), 409), "of a device that nobody knows")
	phone := p.client("ann")
	require.Equal(t, http.StatusOK, phone.syncs("phone").StatusCode)
	assert.Equal(t, unsent.Report{Person: "Ann Vane", Saved: p.now.UTC(), Taken: 2, Held: 1, Files: 1, BadFiles: 1},
		utc(read[unsent.Report](t, post(file))))
	assert.Equal(t, 2, read[unsent.Report](t, post(file)).Duplicate)
	page := read[api.VisitPage](t, desk.get("/api/office/visits/V1"))
	assert.Equal(t, map[string]bool{hash: true}, page.Here)
	out := read[replica.Response](t, phone.syncs("phone", note, picture))
	assert.Equal(t, replica.Duplicate, out.Receipts[1].Verdict, "the phone comes back after all")

	for code, body := range map[string][]byte{
		"unsent.not_ours": []byte("PK\x03\x04"),
		"unsent.version":  []byte(`{"iter":"unsent","v":3,"person":"ann"}`),
		"unsent.line":     append(p.unsentFile(t, "ann", line{"entry": note}), []byte(`{"entry":{"id":`)...), // cut short
	} {
		assert.Equal(t, code, problem(t, post(body), 409))
	}
	assert.Equal(t, "record.unknown", problem(t, post(p.unsentFile(t, "nobody")), 404))
	assert.Equal(t, "unsent.not_ours", problem(t, post(nil), 409))
	assert.Equal(t, 403, p.client("ann").send("POST", "/api/office/unsent", bytes.NewReader(file)).StatusCode)
}

// A file speaks for the device that signed it, for nobody else, and only of what is recorded in the field.
func TestUnsentWorkIsSigned(t *testing.T) {
	p := start(t)
	phone, desk := p.client("ann"), p.client("a-administrator")
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	der, err := x509.MarshalPKIXPublicKey(&key.PublicKey)
	require.NoError(t, err)
	hello := replica.Request{Replica: "phone", Now: p.now, Key: base64.StdEncoding.EncodeToString(der)}
	require.Equal(t, http.StatusOK, phone.post("/api/sync", hello).StatusCode)
	hello.Key = "another"
	require.Equal(t, http.StatusOK, phone.post("/api/sync", hello).StatusCode, "the first key stands")

	m := ledgertest.NewMaker("phone", 5)
	sign := func(body []byte, with *ecdsa.PrivateKey) []byte {
		sum := sha256.Sum256(body)
		r, s, err := ecdsa.Sign(rand.Reader, with, sum[:])
		require.NoError(t, err)
		return fmt.Appendf(body, "{\"signed\":%q}\n",
			base64.StdEncoding.EncodeToString(append(r.FillBytes(make([]byte, 32)), s.FillBytes(make([]byte, 32))...)))
	}
	file := func(entries ...ledger.Entry) []byte {
		var lines []any
		for _, e := range entries {
			lines = append(lines, map[string]any{"entry": e})
		}
		return p.unsentFile(t, "ann", lines...)
	}
	post := func(body []byte) *http.Response {
		return desk.send("POST", "/api/office/unsent", bytes.NewReader(body))
	}
	note := m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "in the basement"})
	other, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	good := sign(file(note), key)
	for name, body := range map[string][]byte{
		"unsigned": file(note), "signed by another": sign(file(note), other),
		"changed after": bytes.Replace(good, []byte("basement"), []byte("cellar  "), 1),
	} {
		assert.Equal(t, "unsent.signature", problem(t, post(body), 409), name)
	}
	assert.Equal(t, "unsent.line", problem(t, post(append(bytes.Clone(good), file(note)[len(file()):]...)), 409),
		"nothing goes on behind the signature")
	assert.Equal(t, 1, read[unsent.Report](t, post(good)).Taken)
	page := read[api.VisitPage](t, desk.get("/api/office/visits/V1"))
	assert.Equal(t, "administrator", page.Trail[len(page.Trail)-1].Brought, "who brought it stands with it")

	own := m.Entry("ann", "visit.reviewed", "visit", "V1", ledger.Nothing{})
	role := m.Entry("a-administrator", "record.amended", "person", "ann", map[string]any{"roles": []string{"administrator"}})
	assert.Equal(t, 2, read[unsent.Report](t, post(sign(file(own, role), key))).Held)
	for _, h := range read[[]api.HeldLine](t, desk.get("/api/office/held")) {
		assert.Contains(t, []string{"scope.file", "scope.actor"}, h.Why.Code)
		assert.Equal(t, "administrator", h.BroughtBy)
		if h.Why.Code == "scope.actor" {
			require.NotNil(t, h.Cannot)
			assert.Equal(t, "held.foreign", h.Cannot.Code)
			assert.Equal(t, "held.foreign", problem(t, desk.post(fmt.Sprint("/api/office/held/", h.ID), api.Decision{Do: "take"}), 409))
		}
	}
}

func utc(r unsent.Report) unsent.Report {
	r.Saved = r.Saved.UTC()
	return r
}

// A device whose access is ended hands over what it has, is told nothing more, and says when it has wiped itself.
func TestADeviceIsEnded(t *testing.T) {
	p := start(t)
	ann, desk := p.client("ann"), p.client("a-dispatcher")
	sync := func(r replica.Request) replica.Response {
		r.Replica, r.Now, r.Version = "phone", p.now.Add(2*time.Minute), "1.2"
		return read[replica.Response](t, ann.post("/api/sync", r))
	}
	assert.NotEmpty(t, sync(replica.Request{Unsent: 3}).Docs)
	lines := read[[]api.DeviceLine](t, desk.get("/api/office/devices"))
	require.Len(t, lines, 1)
	assert.Equal(t, []any{"Ann Vane", 3, "1.2", int64(120000)}, []any{lines[0].Person, lines[0].Unsent, lines[0].Version, lines[0].Skew})
	require.Equal(t, http.StatusNoContent, desk.post("/api/office/devices/phone/end", nil).StatusCode)
	assert.Equal(t, "record.unknown", problem(t, desk.post("/api/office/devices/nothing/end", nil), 404))
	assert.Equal(t, 403, p.client("a-stores").post("/api/office/devices/phone/end", nil).StatusCode)
	note := ledgertest.NewMaker("phone", 6).Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "last words"})
	out := sync(replica.Request{Entries: []ledger.Entry{note}})
	assert.True(t, out.Ended)
	assert.Empty(t, out.Docs)
	assert.Equal(t, replica.Taken, out.Receipts[0].Verdict)
	sync(replica.Request{Wiped: true})
	assert.False(t, read[[]api.DeviceLine](t, desk.get("/api/office/devices"))[0].Wiped.IsZero())
}

// What a technician corrects in a record they hold is taken; at the office the value that was replaced stands beside it.
func TestARecordEditedOnBothSides(t *testing.T) {
	p := start(t)
	ann, desk := p.client("ann"), p.client("a-dispatcher")
	sync := func(entries ...ledger.Entry) replica.Response {
		return read[replica.Response](t, ann.post("/api/sync", replica.Request{Replica: "phone", Now: p.now, Entries: entries}))
	}
	sync()
	site := ledger.Ref{Type: "site", ID: "S1"}
	res := desk.command(office.Command{ID: "01HZZZZZZZZZZZZZZZZZZZZZZ1", Kind: "record.amended", Subject: site,
		Body: json.RawMessage(`{"access":"Gate 4"}`), Base: json.RawMessage(`{"access":""}`)})
	require.Equal(t, 200, res.StatusCode)
	m := ledgertest.NewMaker("phone", 8)
	mine := m.Entry("ann", "record.amended", "site", "S1", json.RawMessage(`{"access":"Key at the harbour office"}`))
	mine.Base = json.RawMessage(`{"access":""}`)
	tooMuch := m.Entry("ann", "record.amended", "site", "S1", json.RawMessage(`{"customer":"C9"}`))
	unheld := m.Entry("ann", "record.amended", "asset", "A9", json.RawMessage(`{"serial":"1"}`))
	out := sync(mine, tooMuch, unheld)
	assert.Equal(t, replica.Taken, out.Receipts[0].Verdict)
	assert.Equal(t, "scope.role", out.Receipts[1].Why.Code)
	assert.Equal(t, "scope.record", out.Receipts[2].Why.Code)
	page := read[api.RecordPage](t, desk.get("/api/office/records/site/S1"))
	assert.Contains(t, string(page.Body), "harbour")
	require.Len(t, page.Clashes, 1)
	assert.Equal(t, map[string]string{"field": "access", "earlier": `"Gate 4"`, "later": `"Key at the harbour office"`},
		page.Clashes[0].Args)
	assert.Equal(t, []string{"Ann Vane", "dispatcher"}, []string{page.Changes[0].Person, page.Changes[1].Person})
	assert.Equal(t, "Booster set", page.Around[0].Name)
	flagged := read[[]api.Flagged](t, desk.get("/api/office/flags"))
	assert.Equal(t, "Ann Vane", flagged[0].Name)
	assert.Equal(t, "record.unknown", problem(t, desk.get("/api/office/records/person/ann"), 404), "people are not for everybody")
	assert.Equal(t, "record.unknown", problem(t, desk.get("/api/office/records/site/S9"), 404))
}

// Whatever comes as headers of an upload, the answer is one of the protocol's, and the server goes on.
func FuzzUploadHeaders(f *testing.F) {
	p := start(f)
	c := p.client("ann")
	f.Add("1.0.0", "5", "hash YWJj", "0", "POST", "", []byte("abc"))
	f.Add("1.0.0", "-1", "hash", "99999999999999999999", "PATCH", "x", []byte{})
	f.Add("0.2.2", "", "a b,c d,,", "", "HEAD", "../..", []byte("x"))
	f.Fuzz(func(t *testing.T, version, length, meta, offset, method, id string, body []byte) {
		if method != "POST" && method != "PATCH" && method != "HEAD" && method != "OPTIONS" {
			method = "POST"
		}
		r, err := http.NewRequest(method, p.URL+"/api/upload/", bytes.NewReader(body))
		if err != nil {
			return
		}
		r.URL.Path += id
		for name, value := range map[string]string{"Tus-Resumable": version, "Upload-Length": length, "Upload-Metadata": meta,
			"Upload-Offset": offset} {
			r.Header.Set(name, strings.Map(printable, value))
		}
		r.Header.Set("Content-Type", "application/offset+octet-stream")
		res, err := c.http.Do(r)
		if err != nil {
			return // no request at all, such as one with a path that no URL can have
		}
		defer res.Body.Close()
		if res.StatusCode >= 500 && res.StatusCode != http.StatusNotImplemented {
			t.Fatalf("status %d", res.StatusCode)
		}
	})
}

func printable(r rune) rune {
	if r < ' ' || r > '~' {
		return -1
	}
	return r
}

// Whatever comes as a sync body, packed or not, is answered with what became of it or with a problem: never a panic or a 500.
func FuzzSyncBody(f *testing.F) {
	p := start(f)
	c := p.client("ann")
	note := ledgertest.NewMaker("phone", 9).Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "x"})
	raw, err := json.Marshal(replica.Request{Replica: "phone", Cursor: "1.2", Now: p.now, Entries: []ledger.Entry{note, note},
		Held: []string{"x"}})
	require.NoError(f, err)
	f.Add(raw, false)
	var packed bytes.Buffer
	z := gzip.NewWriter(&packed)
	_, err = z.Write(raw)
	require.NoError(f, errors.Join(err, z.Close()))
	f.Add(packed.Bytes(), true)
	f.Add([]byte(`{"replica":"phone","entries":[{"id":"","n":-1}],"held":[""],"unsent":-5}`), false)
	f.Fuzz(func(t *testing.T, body []byte, packed bool) {
		r, err := http.NewRequest("POST", p.URL+"/api/sync", bytes.NewReader(body))
		require.NoError(t, err)
		if packed {
			r.Header.Set("Content-Encoding", "gzip")
		}
		res, err := c.http.Do(r)
		require.NoError(t, err)
		defer res.Body.Close()
		if res.StatusCode >= 500 {
			t.Fatalf("status %d", res.StatusCode)
		}
	})
}

// Whatever comes as commands of the office is recorded whole, or refused with a reason.
func FuzzBatch(f *testing.F) {
	p := start(f)
	c := p.client("a-administrator")
	m := ledgertest.NewMaker("x", 11)
	for _, kind := range ledger.Kinds() {
		if e, ok := m.Sample(kind, "a-administrator"); ok {
			raw, err := json.Marshal(office.Batch{Seen: 99,
				Entries: []office.Command{{ID: e.ID, Kind: e.Kind, Subject: e.Subject, Body: e.Body}}})
			require.NoError(f, err)
			f.Add(raw)
		}
	}
	f.Add([]byte(`{"entries":[{"id":"01HZZZZZZZZZZZZZZZZZZZZZZ1","kind":"record.amended","subject":{"type":"site",` +
		`"id":"S1"},"body":{"contact":{"phone":"1"}},"base":{"contact":7}}],"seen":-1}`))
	f.Fuzz(func(t *testing.T, body []byte) {
		res, err := c.http.Post(p.URL+"/api/office/entries", "application/json", bytes.NewReader(body))
		require.NoError(t, err)
		defer res.Body.Close()
		if res.StatusCode >= 500 {
			t.Fatalf("status %d", res.StatusCode)
		}
	})
}

// Whatever comes as a file of unsent work is taken in as far as it goes, or refused with a reason.
func FuzzUnsentFile(f *testing.F) {
	p := start(f)
	c := p.client("a-dispatcher")
	require.Equal(f, http.StatusOK, p.client("ann").syncs("phone").StatusCode)
	raw, hash := photo(f, 9)
	m := ledgertest.NewMaker("phone", 10)
	f.Add(p.unsentFile(f, "ann", map[string]any{"entry": m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "x"})},
		map[string]any{"file": work.FileRef{Hash: hash, Name: "x", Type: "image/jpeg", Size: int64(len(raw))},
			"data": base64.StdEncoding.EncodeToString(raw[:200])}))
	f.Add([]byte("{}\n{}"))
	f.Add([]byte(fmt.Sprintf(`{"iter":"unsent","v":1,"person":"ann"}%c{"entry":{}}%c{"file":{},"data":"="}`, '\n', '\n')))
	f.Fuzz(func(t *testing.T, body []byte) {
		res, err := c.http.Post(p.URL+"/api/office/unsent", "application/x-ndjson", bytes.NewReader(body))
		require.NoError(t, err)
		defer res.Body.Close()
		if res.StatusCode >= 500 {
			t.Fatalf("status %d", res.StatusCode)
		}
	})
}

// The office reads of a held entry who sent it and what it is about, in names.
func TestHeldInNames(t *testing.T) {
	p := start(t)
	m := ledgertest.NewMaker("phone", 11)
	late := m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "from the day after tomorrow"})
	late.At = p.now.AddDate(0, 0, 2)
	out := read[replica.Response](t, p.client("ann").post("/api/sync",
		replica.Request{Replica: "phone", Now: p.now, Entries: []ledger.Entry{late}}))
	require.Equal(t, replica.Held, out.Receipts[0].Verdict)
	held := read[[]api.HeldLine](t, p.client("a-dispatcher").get("/api/office/held"))
	require.Len(t, held, 1)
	assert.Equal(t, []string{"Ann Vane", "4127 · Orrisk Pump House 3"}, []string{held[0].Name, held[0].About})
}
