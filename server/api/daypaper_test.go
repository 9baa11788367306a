package api_test

import (
	"io"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Somebody's day is printed for the office; a day or a person that is none is said to be.
func TestDayPaper(t *testing.T) {
	p, d, date := drafting(t)
	res := d.get("/api/office/days/ann/paper.pdf?date=" + date)
	require.Equal(t, http.StatusOK, res.StatusCode)
	pdf, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.Equal(t, "%PDF", string(pdf[:4]))
	assert.Equal(t, "http.date", problem(t, d.get("/api/office/days/ann/paper.pdf?date=soon"), http.StatusBadRequest))
	assert.Equal(t, "record.unknown", problem(t, d.get("/api/office/days/nobody/paper.pdf?date="+date), http.StatusNotFound))
	assert.Equal(t, http.StatusForbidden, p.client("ann").get("/api/office/days/ann/paper.pdf?date="+date).StatusCode)
}
