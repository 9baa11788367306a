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
