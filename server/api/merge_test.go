package api_test

import (
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/server/api"
	"iter.example/iter/server/directory"
	"iter.example/iter/server/store"
)

// A customer that turned out to be another is neither found nor listed, leads to the other, and comes back by undo with all that hung
// there.
func TestACustomerTurnsOutToBeAnother(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	found := func() (out []string) {
		for _, h := range read[store.Found](t, desk.get("/api/office/find?q=weir")).Hits {
			out = append(out, h.Type+" "+h.ID)
		}
		return out
	}
	require.Equal(t, http.StatusOK, desk.does("record.created", "customer", "C2", records.Customer{Name: "Weir Marina"}).StatusCode)
	require.Equal(t, http.StatusOK, desk.does("record.created", "site", "S2", records.Site{Customer: "C2", Name: "Basin"}).StatusCode)
	require.Equal(t, []string{"customer C2", "site S2"}, found())
	hanging := read[store.Hanging](t, desk.get("/api/office/hanging/customer/C2"))
	assert.Equal(t, store.Hanging{Sites: []string{"S2"}, Assets: []string{}, Orders: []string{}}, hanging)

	merge := read[api.Recorded](t, desk.does("record.merged", "customer", "C2", ledger.Merged{Into: "C1", Sites: hanging.Sites}))
	assert.Empty(t, found(), "by its old name neither it nor its site")
	assert.Equal(t, "C1", read[api.Caller](t, desk.get("/api/office/callers/customer/C2")).ID, "an address that was kept leads to the other")
	page := read[api.RecordPage](t, desk.get("/api/office/records/customer/C2"))
	require.NotNil(t, page.Merged)
	assert.Equal(t, "C1", page.Merged.ID)
	assert.Equal(t, []string{"S2"}, page.Along.Sites)
	assert.Len(t, read[api.RecordPage](t, desk.get("/api/office/records/customer/C1")).Twins, 1)
	told := read[directory.Directory](t, p.client("ann").get("/api/directory"))
	assert.NotContains(t, told.Customers.ID, "C2", "nor does a phone find it")
	assert.Equal(t, "merge.gone", problem(t, desk.does("record.merged", "customer", "C2", ledger.Merged{Into: "C1"}), 409))

	require.Equal(t, http.StatusOK, desk.post("/api/office/undo/"+merge.Entries[0].ID, api.UndoReason{}).StatusCode)
	assert.Equal(t, []string{"customer C2", "site S2"}, found())
}

// An order goes to somebody on paper, once, and its page and the customer's say so.
func TestAnOrderIsSent(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	assert.Equal(t, http.StatusForbidden, p.client("a-stores").does("work.sent", "workorder", "W1",
		ledger.WorkSent{To: "crane@example.net", Text: "For Tuesday"}).StatusCode)
	require.Equal(t, http.StatusOK, desk.does("work.sent", "workorder", "W1",
		ledger.WorkSent{To: "crane@example.net", Text: "For Tuesday"}).StatusCode)
	require.Eventually(t, func() bool {
		sent := read[[]store.Sent](t, desk.get("/api/office/messages"))
		return len(sent) == 1 && sent[0].To == "crane@example.net" && sent[0].Bytes > 1000 && sent[0].About.ID == "W1"
	}, 40*time.Second, 50*time.Millisecond)
	page := read[api.OrderPage](t, desk.get("/api/office/orders/W1"))
	require.Len(t, page.Order.Messages, 1)
	assert.Equal(t, "sent", page.Messages[page.Order.Messages[0].Entry])
	told := read[api.Timeline](t, desk.get("/api/office/timeline/customer/C1")).Lines
	require.Len(t, told, 1)
	assert.Equal(t, []string{"For Tuesday", "sent"}, []string{told[0].Text, told[0].State})
}
