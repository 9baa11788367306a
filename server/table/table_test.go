package table_test

import (
	"encoding/csv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/server/table"
)

// What a spreadsheet would work out is text to it; numbers and ordinary words stay as they are.
func TestCellsThatAreNoFormulas(t *testing.T) {
	for cell, want := range map[string]string{
		"Seal 38 mm": "Seal 38 mm", "": "", "-4.5": "-4.5", "+3": "+3", " a": " a", "a=b": "a=b", "1-2": "1-2",
		"=1+1": "'=1+1", "+cmd": "'+cmd", "-cmd": "'-cmd", "@SUM(A1)": "'@SUM(A1)",
		" =1+1": "' =1+1", "\n=1+1": "'\n=1+1", "\t\u00a0=1+1": "'\t\u00a0=1+1", "\ufeff=1": "'\ufeff=1", "＝1+1": "'＝1+1", "\tx": "'\tx",
	} {
		raw, err := table.Table{Columns: []string{"a"}, Rows: [][]string{{cell, "x"}}}.CSV()
		require.NoError(t, err)
		in := csv.NewReader(strings.NewReader(string(raw)))
		in.FieldsPerRecord = -1
		rows, err := in.ReadAll()
		require.NoError(t, err)
		assert.Equal(t, want, strings.ReplaceAll(rows[1][0], "\r\n", "\n"), "%q", cell)
	}
}
