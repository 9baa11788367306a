package api_test

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/binary"
	"encoding/json"
	"hash/crc32"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/store"
)

// A file is given to whoever has something that it belongs to; to others it is as if it were not there.
func TestAFileIsGivenByScope(t *testing.T) {
	p := start(t)
	ann, ben, desk := p.client("ann"), p.client("ben"), p.client("a-dispatcher")
	raw, hash := photo(t, 11)
	require.Equal(t, http.StatusNoContent, ann.piece(address(t, ann.begin(hash, len(raw))), 0, bytes.NewReader(raw)).StatusCode)
	path := "/api/files/" + hash
	assert.Equal(t, http.StatusOK, ann.get(path).StatusCode, "who sent it")
	assert.Equal(t, http.StatusOK, desk.get(path).StatusCode, "the office")
	assert.Equal(t, "file.not_here", problem(t, ben.get(path), 404))
	assert.Equal(t, "file.not_here", problem(t, ben.get(path+"?thumb"), 404))

	m := ledgertest.NewMaker("A1", 5)
	mention := m.Entry("ann", "file.attached", "visit", "V1",
		ledger.File{FileRef: work.FileRef{Hash: hash, Name: "seal.jpg", Type: "image/jpeg", Size: int64(len(raw))}})
	require.Equal(t, replica.Taken, read[replica.Response](t, ann.syncs("A1", mention)).Receipts[0].Verdict)
	require.Equal(t, http.StatusOK, ben.syncs("B1").StatusCode)
	assert.Equal(t, "file.not_here", problem(t, ben.get(path), 404), "the visit is not on his device")
	require.Equal(t, 200, desk.does("visit.moved", "visit", "V1", ledger.Move{Technician: "ben", Start: p.now.Add(time.Hour),
		Minutes: 30}).StatusCode)
	require.Equal(t, http.StatusOK, ben.syncs("B1").StatusCode)
	assert.Equal(t, http.StatusOK, ben.get(path).StatusCode, "now it is")
}

// An upload is gone on with by whoever began it, and what is none has no answer that tells anything.
func TestUploadsAreOnesOwn(t *testing.T) {
	p := start(t)
	ann, ben := p.client("ann"), p.client("ben")
	raw, hash := photo(t, 12)
	at := address(t, ann.begin(hash, len(raw)))
	tus := []string{"Tus-Resumable", "1.0.0"}
	assert.Equal(t, http.StatusNotFound, ben.send("HEAD", at, nil, tus...).StatusCode)
	assert.Equal(t, "upload.unknown", problem(t, ben.piece(at, 0, bytes.NewReader(raw)), 404))
	for _, id := range []string{"%00", strings.Repeat("a", 5000), "..%2f..%2fiter.db", strings.Repeat("a", 32), "x.info"} {
		assert.Equal(t, "upload.unknown", problem(t, ann.piece("/api/upload/"+id, 0, bytes.NewReader(raw)), 404), "%.40s", id)
	}
	assert.Equal(t, http.StatusNoContent, ann.piece(at, 0, bytes.NewReader(raw)).StatusCode)
}

// A small file that says it is a huge picture is kept, and not decoded.
func TestASmallFileOfAHugePicture(t *testing.T) {
	p := start(t)
	c := p.client("ann")
	for side, thumb := range map[uint32]bool{24_000: false, 1 << 31: false} {
		raw := hugePNG(side)
		hash := hashOf(raw)
		require.Equal(t, http.StatusNoContent, c.piece(address(t, c.begin(hash, len(raw))), 0, bytes.NewReader(raw)).StatusCode)
		assert.Equal(t, http.StatusOK, c.get("/api/files/"+hash).StatusCode)
		assert.Equal(t, thumb, c.get("/api/files/"+hash+"?thumb").StatusCode == http.StatusOK, side)
	}
}

// hugePNG is the beginning of a picture of side by side pixels, of 16 bits for each of four colours.
func hugePNG(side uint32) []byte {
	head := append([]byte("IHDR"), make([]byte, 13)...)
	binary.BigEndian.PutUint32(head[4:], side)
	binary.BigEndian.PutUint32(head[8:], side)
	head[12], head[13] = 16, 6
	out := append([]byte("\x89PNG\r\n\x1a\n"), 0, 0, 0, 13)
	out = append(out, head...)
	return binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(head))
}

func TestQuotas(t *testing.T) {
	p := start(t)
	c := p.client("ann")
	ctx := context.Background()
	for range 200 {
		require.Equal(t, http.StatusCreated, c.begin(strings.Repeat("a", 64), 9).StatusCode)
	}
	assert.Equal(t, "quota.uploads", problem(t, c.begin(strings.Repeat("a", 64), 9), 429))
	assert.Equal(t, http.StatusCreated, p.client("ben").begin(strings.Repeat("a", 64), 9).StatusCode, "another is not kept from it")

	m := ledgertest.NewMaker("A1", 5)
	var bad []ledger.Entry
	for range 200 {
		bad = append(bad, m.Entry("ann", "note.written", "visit", "V9", ledger.Note{Text: "x"}))
	}
	require.NoError(t, p.store.Write(ctx, func(tx *store.Tx) error {
		other := ledgertest.NewMaker("A0", 6)
		for range 900 {
			e := other.Entry("ann", "note.written", "visit", "V9", ledger.Note{Text: "x"})
			if err := tx.Hold(e, "ann", msg.New("scope.visit"), store.Arrival{At: p.now}); err != nil {
				return err
			}
		}
		return nil
	}))
	assert.Equal(t, "quota.held", problem(t, c.syncs("A1", bad...), 429))
	assert.Len(t, read[replica.Response](t, c.syncs("A1", bad[:100]...)).Receipts, 100, "as many as there is room for")

	require.NoError(t, p.store.Write(ctx, func(tx *store.Tx) error { return tx.AddBytes("ben", p.now, 4<<30) }))
	ben := p.client("ben")
	res := ben.syncs("B1", ledgertest.NewMaker("B1", 7).Entry("ben", "note.to_office", "timecard", "ben+2026-03-10",
		ledger.Note{Text: "x"}))
	assert.Equal(t, "600", res.Header.Get("Retry-After"))
	assert.Equal(t, "quota.bytes", problem(t, res, 429))
	assert.Equal(t, "quota.bytes", problem(t, ben.begin(strings.Repeat("b", 64), 9), 429))
	p.now = p.now.Add(24 * time.Hour)
	assert.Equal(t, http.StatusOK, ben.syncs("B1").StatusCode, "the next day")

	for range 50 {
		c.get("/api/events")
	}
	assert.Equal(t, "quota.events", problem(t, c.get("/api/events"), 429))
}

// Where a technician lives is on their own devices alone, and their hours are not for everybody at the office.
func TestWhatIsSomebodysOwn(t *testing.T) {
	p := start(t)
	admin := p.client("a-administrator")
	require.Equal(t, 200, admin.does("record.amended", "person", "ann",
		map[string]any{"home": records.Point{Lat: 54.1, Lon: -9.2}}).StatusCode)
	homes := func(login string) (out map[string]*records.Point) {
		out = map[string]*records.Point{}
		for _, d := range read[replica.Response](t, p.client(login).syncs("D-"+login)).Docs {
			if d.Type == "person" {
				var who records.Person
				require.NoError(t, json.Unmarshal(d.Body, &who))
				assert.NotEmpty(t, who.Name)
				out[d.ID] = who.Home
			}
		}
		return out
	}
	assert.Equal(t, &records.Point{Lat: 54.1, Lon: -9.2}, homes("ann")["ann"])
	ben := homes("ben")
	assert.Contains(t, ben, "ann")
	assert.Nil(t, ben["ann"])

	ann := p.client("ann")
	m := ledgertest.NewMaker("A1", 5)
	require.Equal(t, 200, ann.syncs("A1", m.Entry("ann", "note.to_office", "timecard", "ann+2026-03-10",
		ledger.Note{Text: "Home early"})).StatusCode)
	for login, want := range map[string]int{"a-stores": 403, "a-dispatcher": 200, "a-reviewer": 200} {
		c := p.client(login)
		for _, path := range []string{"/api/office/hours?from=2026-03-09&to=2026-03-15", "/api/office/hours/booked/ann+2026-03-10"} {
			assert.Equal(t, want, c.get(path).StatusCode, "%s %s", login, path)
		}
		assert.Equal(t, want == 200, len(read[[]api.Flagged](t, c.get("/api/office/flags"))) > 0, login)
	}
}

// A paper that a browser would run, or that is none, is not made one by calling it so.
func TestPapersThatAreNone(t *testing.T) {
	p := start(t)
	c := p.client("a-dispatcher")
	for code, paper := range map[string]map[string]any{
		"file.type":            {strings.Repeat("a", 64): records.Document{Name: "Manual", Type: "text/html", Size: 9}},
		"file.hash_unreadable": {"manual": records.Document{Name: "Manual", Type: "application/pdf", Size: 9}},
		"file.size":            {strings.Repeat("a", 64): records.Document{Name: "Manual", Type: "application/pdf"}},
	} {
		for typ, id := range map[string]string{"site": "S1", "asset": "A1", "part": "P1"} {
			assert.Equal(t, code, problem(t, c.does("record.amended", typ, id, map[string]any{"documents": paper}), 409), "%s of a %s",
				code, typ)
		}
	}
}

// What another program holds for long is said as what it is.
func TestABusyDatabaseOverHTTP(t *testing.T) {
	p := start(t)
	c := p.client("ann")
	_, err := p.store.Sessions().Exec("PRAGMA busy_timeout = 20")
	require.NoError(t, err)
	other, err := sql.Open("sqlite", "file:"+p.store.Path()+"?_txlock=exclusive")
	require.NoError(t, err)
	defer other.Close()
	held, err := other.Begin()
	require.NoError(t, err)
	res := c.syncs("A1")
	assert.Equal(t, "5", res.Header.Get("Retry-After"))
	assert.Equal(t, "server.busy", problem(t, res, 503))
	require.NoError(t, held.Rollback())
	assert.Equal(t, http.StatusOK, c.syncs("A1").StatusCode)
}
