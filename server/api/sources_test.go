package api_test

import (
	"errors"
	"fmt"
	"io"
	"math/rand"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/api"
	"iter.example/iter/server/store"
)

// touches tells whether an answer that was read from some sources may be another after a change.
func touches(read, changed []string) bool {
	return slices.ContainsFunc(changed, func(c string) bool {
		typ, _, doc := strings.Cut(c, "/")
		return slices.Contains(read, c) || doc && (slices.Contains(read, typ+"/") || slices.Contains(read, "docs")) ||
			strings.HasSuffix(c, "/") && slices.ContainsFunc(read, func(r string) bool { return strings.HasPrefix(r, c) })
	})
}

// Whatever is recorded: an answer that is another after it was read from something that the news of it names.
func TestNewsNamesWhatAnswersWereReadFrom(t *testing.T) {
	p := start(t)
	c := p.client("a-administrator")
	m, r := ledgertest.NewMaker("R1", 7), rand.New(rand.NewSource(7))
	var news []string
	p.store.Watch(func(changed store.Changed) { news = append(news, changed.Names...) })

	ids := map[string][]string{"id": {"V1", "V2", "S1", "A1"}, "order": {"W1", "W2"}, "customer": {"C1"}, "asset": {"A1"}, "site": {"S1"},
		"place": {"van-ann", "store"}, "person": {"ann"}, "type": {"visit", "site", "asset", "person"}, "card": {"ann+2026-03-10"},
		"list": store.ListNames}
	parameter := regexp.MustCompile(`:(\w+)`)
	var paths []string
	for _, route := range api.Routes() {
		if route.Method != http.MethodGet || !route.Typed || route.Answer == nil || !strings.HasPrefix(route.Path, "/api/office/") {
			continue
		}
		made := []string{route.Path}
		for _, name := range parameter.FindAllStringSubmatch(route.Path, -1) {
			require.NotEmpty(t, ids[name[1]], route.Path)
			var next []string
			for _, path := range made {
				for _, id := range ids[name[1]] {
					next = append(next, strings.Replace(path, name[0], id, 1))
				}
			}
			made = next
		}
		paths = append(paths, made...)
	}
	for _, q := range []string{"board?date=2026-03-10", "customers?q=on", "hours?from=2026-03-09&to=2026-03-12",
		"attention?handled=true",
		"lists/orders/groups?by=state", "stores/movements?place=van-ann", "stores/requests?over=true"} {
		paths = append(paths, "/api/office/"+q)
	}
	type answer struct {
		text string
		read []string
	}
	ask := func(path string) answer {
		res := c.get(path)
		body, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return answer{fmt.Sprint(res.StatusCode, " ", string(body)), strings.Fields(res.Header.Get("Iter-Read"))}
	}
	known := map[string]answer{}
	for _, path := range paths {
		known[path] = ask(path)
	}

	var taken []ledger.Entry
	record := func() {
		e := m.Random(r, taken)
		if r.Intn(4) == 0 {
			kinds := ledger.Kinds()
			if s, ok := m.Sample(kinds[r.Intn(len(kinds))], []string{"ann", "office"}[r.Intn(2)]); ok {
				e = s
			}
		}
		if p.store.Write(t.Context(), func(tx *store.Tx) error { _, err := tx.Record(e, e.At); return err }) == nil {
			taken = append(taken, e)
		}
	}
	beside := []func(*store.Tx) error{
		func(tx *store.Tx) error {
			early := m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "from tomorrow"})
			return tx.Hold(early, "ann", msg.New("time.ahead"), store.Arrival{At: p.now})
		},
		func(tx *store.Tx) error { return tx.PutBadge(store.Badge{Person: "ann", Number: ulid.Make().String()}) },
		func(tx *store.Tx) error {
			a, _, err := tx.AccountOf("ben")
			if a.Disabled.IsZero() {
				a.Disabled = p.now
			} else {
				a.Disabled = time.Time{}
			}
			return errors.Join(err, tx.PutAccount(a))
		},
		func(tx *store.Tx) error { return accounts.SetPin(tx, "4711", "ann") },
	}
	changes, asked, again := 0, 0, 0
	for step := range 70 {
		news = nil
		switch {
		case step%10 == 9:
			_ = p.store.Write(t.Context(), beside[r.Intn(len(beside))])
		case step%5 == 4:
			p.now = p.now.Add(time.Duration(r.Intn(600)) * time.Minute)
			news = []string{store.Clock}
		default:
			record()
		}
		for _, path := range paths {
			now, before := ask(path), known[path]
			known[path] = now
			asked++
			if touches(before.read, news) {
				again++
			}
			if now.text != before.text {
				changes++
				assert.True(t, touches(before.read, news), "%s changed by %v, read from %v", path, news, before.read)
			}
		}
	}
	t.Logf("of %d answers %d were others, %d would be asked for again", asked, changes, again)
	assert.Greater(t, changes, 50)
	assert.Less(t, again, asked/3)
}
