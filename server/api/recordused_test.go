package api_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/server/api"
	"iter.example/iter/server/office"
)

// What was used on visits adds up on the pages of the customer, the site and the machine, without what was struck out.
func TestWhatWasUsedOnARecord(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	use := func(quantity int64) string {
		body, err := json.Marshal(ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.NewFromInt(quantity)})
		require.NoError(t, err)
		res := desk.command(office.Command{ID: ulid.Make().String(), Kind: "part.used", Subject: ledger.Ref{Type: "visit", ID: "V1"}, Body: body,
			Phoned: &office.Phoned{Person: "ann", At: ledgertest.Start.Add(time.Minute)}})
		return read[api.Recorded](t, res).Entries[0].ID
	}
	total := func(path string) string {
		used := read[api.RecordUsed](t, desk.get("/api/office/used/"+path))
		require.NotZero(t, used.Orders, path)
		if len(used.Parts) == 0 {
			return "none"
		}
		require.Len(t, used.Parts, 1)
		assert.Equal(t, "V1", used.Parts[0].Visit)
		return used.Parts[0].Quantity.String()
	}
	assert.Equal(t, "none", total("site/S1"))
	use(2)
	wrong := use(40)
	assert.Equal(t, "42", total("customer/C1"))
	require.Equal(t, 200, desk.post("/api/office/undo/"+wrong, api.UndoReason{Reason: "A slip"}).StatusCode)
	for _, path := range []string{"customer/C1", "site/S1", "asset/A1"} {
		assert.Equal(t, "2", total(path), path)
	}
	res := desk.get("/api/office/used/part/P1")
	assert.Equal(t, "record.unknown", problem(t, res, res.StatusCode))
}
