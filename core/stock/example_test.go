package stock_test

import (
	"fmt"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/stock"
)

// A seal is used before the count and one after it; the office hears of the count last.
func ExampleStock() {
	at := func(hour int) time.Time { return time.Date(2026, 3, 10, hour, 0, 0, 0, time.UTC) }
	one := decimal.NewFromInt(-1)
	var van stock.Stock
	van.Move("SK-38", stock.Movement{Entry: "1", At: at(8), Quantity: one})
	van.Move("SK-38", stock.Movement{Entry: "3", At: at(10), Quantity: one})
	van.Count("SK-38", "2", at(9), decimal.NewFromInt(4))
	fmt.Println(van.Lines["SK-38"].Balance)
	van.Strike("SK-38", stock.Movement{Entry: "3", At: at(10), Quantity: one}, true)
	fmt.Println(van.Lines["SK-38"].Balance)
	// Output:
	// 3
	// 4
}

// A coil of hose is used by the metre, and by the coil.
func ExamplePart_InUnit() {
	hose := stock.Part{Name: "Hose", Unit: "m", Packs: []stock.Pack{{Name: "coil", Size: decimal.NewFromInt(50)}}}
	for _, unit := range []string{"m", "coil", "cm"} {
		q, err := hose.InUnit(decimal.NewFromInt(3), unit)
		fmt.Println(q, err)
	}
	_, err := hose.InUnit(decimal.NewFromInt(3), "each")
	fmt.Println(err)
	// Output:
	// 3 <nil>
	// 150 <nil>
	// 0.03 <nil>
	// quantity.unit part=Hose sold=m unit=each
}

// What a label says is found under one key, however a scanner writes it.
func ExampleReadCode() {
	for _, text := range []string{"4006381333931", "]E04006381333931", "\x1d010400638133393121S-77", "ITER-P/SK-38", "sk-38"} {
		c, err := stock.ReadCode(text)
		fmt.Println(c.Key, c.Serial, err)
	}
	// Output:
	// 4006381333931  <nil>
	// 4006381333931  <nil>
	// 4006381333931 S-77 <nil>
	// SK-38  <nil>
	// SK-38  <nil>
}

// Two stops of a day need a seal, and the van has one: it is for whoever is come to first, unless it is kept.
func ExampleStock_Allot() {
	at := time.Date(2026, 3, 10, 8, 0, 0, 0, time.UTC)
	var van stock.Stock
	van.Count("SK-38", "1", at, decimal.NewFromInt(1))
	one := decimal.NewFromInt(1)
	day := []stock.Demand{{Stop: "first", Order: "4127", Part: "SK-38", Quantity: one},
		{Stop: "second", Order: "4130", Part: "SK-38", Quantity: one}}
	for _, a := range van.Allot(day) {
		fmt.Println(a.Stop, "lacks", a.Lacks)
	}
	van.Reserve("4130", "SK-38", at, one)
	for _, a := range van.Allot(day) {
		fmt.Println(a.Stop, "lacks", a.Lacks)
	}
	// Output:
	// first lacks 0
	// second lacks 1
	// first lacks 1
	// second lacks 0
}

// A van with two of what it should have three to ten of, and of which it uses one a week, is filled up by eight.
func ExampleRestock_Quantity() {
	r := stock.Restock{Balance: decimal.NewFromInt(2), Level: stock.Level{Min: decimal.NewFromInt(3), Max: decimal.NewFromInt(10)},
		Used: decimal.NewFromInt(4)}
	fmt.Println(r.Quantity())
	r.Incoming = decimal.NewFromInt(1)
	fmt.Println(r.Quantity())
	// Output:
	// 8
	// 0
}
