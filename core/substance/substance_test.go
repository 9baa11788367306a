package substance_test

import (
	"fmt"
	"math/rand"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/records"
	"iter.example/iter/core/substance"
)

var now = time.Date(2026, 6, 1, 12, 0, 0, 0, time.UTC)

func dec(s string) *decimal.Decimal { d := decimal.RequireFromString(s); return &d }

var coolant = []substance.Substance{{ID: "coolant", Name: "Coolant", Unit: "kg", Allowed: dec("10")}}

var assets = map[string]records.Asset{"A1": {Charges: []records.Charge{{Substance: "coolant", Amount: *dec("8")}}}}

func move(days int, act substance.Act, amount, unit, asset string) substance.Move {
	return substance.Move{Line: audit.Line{Entry: fmt.Sprint(days, act), At: now.AddDate(0, 0, -days)}, Substance: "coolant", Act: act,
		Amount: *dec(amount), Unit: unit, Asset: asset}
}

func TestStands(t *testing.T) {
	var l substance.Log
	for _, m := range []substance.Move{
		move(900, substance.Delivered, "20", "kg", ""), move(899, substance.FirstFill, "8", "kg", "A1"),
		move(500, substance.PutIn, "2", "kg", "A1"),
		move(300, substance.Counted, "9", "kg", ""), move(200, substance.PutIn, "1200", "g", "A1"),
		move(100, substance.TakenOut, "200", "g", "A1"),
		move(50, substance.Removed, "1", "kg", ""), move(40, substance.PutIn, "3", "l", "A1"),
	} {
		l.Add(m)
	}
	away := move(10, substance.PutIn, "0.5", "kg", "A1")
	away.Away = true
	l.Add(away)
	got := l.Stands(coolant, assets, now)
	require.Len(t, got, 1)
	assert.Equal(t, "7", got[0].OnSite.String(), "9 counted, less 1.2, and 0.2 back, less 1")
	assert.Equal(t, 1, got[0].Unlike, "three litres are no kilograms")
	m := got[0].Machines[0]
	assert.Equal(t, "11.5", m.In.String())
	assert.Equal(t, "1.5", m.Year.String())
	assert.Equal(t, "18.8", m.Loss.String())
	assert.True(t, m.Over)
	audit.Find(l.Moves, away.Entry).Struck = true
	assert.Equal(t, "1", l.Stands(coolant, assets, now)[0].Machines[0].Year.String())
	assert.Empty(t, substance.Log{}.Stands(coolant, nil, now))
}

func TestCheck(t *testing.T) {
	for name, m := range map[string]substance.Move{
		"no machine":        move(1, substance.PutIn, "1", "kg", ""),
		"a machine":         move(1, substance.Delivered, "1", "kg", "A1"),
		"nothing":           move(1, substance.PutIn, "0", "kg", "A1"),
		"less than nothing": move(1, substance.Counted, "-1", "kg", ""),
		"an odd unit":       move(1, substance.PutIn, "1", "kg//", "A1"),
		"an odd act":        move(1, "spilt", "1", "kg", ""),
	} {
		assert.Error(t, m.Check(), name)
	}
	assert.NoError(t, move(1, substance.Counted, "0", "kg", "").Check())
}

// Nothing comes from nowhere: what was delivered is in stock, in machines, or left. In any order of arrival.
func TestConserved(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []substance.Move
		want := decimal.Zero
		for i := range rapid.IntRange(1, 20).Draw(t, "moves") {
			act := rapid.SampledFrom([]substance.Act{substance.Delivered, substance.FirstFill, substance.PutIn, substance.TakenOut,
				substance.Removed}).Draw(t, "act")
			asset := ""
			if act.Machine() {
				asset = rapid.SampledFrom([]string{"A1", "A2"}).Draw(t, "asset")
			}
			m := move(i, act, fmt.Sprint(rapid.IntRange(1, 50).Draw(t, "amount")), rapid.SampledFrom([]string{"kg", "g"}).Draw(t, "unit"),
				asset)
			amount := m.Amount
			if m.Unit == "g" {
				amount = amount.Shift(-3)
			}
			switch act {
			case substance.Delivered:
				want = want.Add(amount)
			case substance.Removed:
				want = want.Sub(amount)
			}
			list = append(list, m)
		}
		var a, b substance.Log
		for _, m := range list {
			a.Add(m)
		}
		rand.New(rand.NewSource(int64(len(list)))).Shuffle(len(list), func(i, j int) { list[i], list[j] = list[j], list[i] })
		for _, m := range list {
			b.Add(m)
		}
		require.Equal(t, a, b)
		got := a.Stands(coolant, nil, now)[0]
		sum := got.OnSite
		for _, m := range got.Machines {
			sum = sum.Add(m.In)
		}
		require.True(t, sum.Equal(want), "%s, %s", sum, want)
	})
}
