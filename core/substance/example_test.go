package substance_test

import (
	"fmt"

	"iter.example/iter/core/substance"
)

// A chiller that holds eight kilograms was filled, and topped up twice within the year.
func ExampleLog_Stands() {
	var log substance.Log
	log.Add(move(900, substance.FirstFill, "8", "kg", "A1"))
	log.Add(move(200, substance.PutIn, "400", "g", "A1"))
	log.Add(move(20, substance.PutIn, "0.6", "kg", "A1"))
	for _, s := range log.Stands(coolant, assets, now) {
		for _, m := range s.Machines {
			fmt.Printf("%s: %s %s in a year, %s %% of %s\n", m.Asset, m.Year, s.Unit, m.Loss, m.Charge)
		}
	}
	// Output: A1: 1 kg in a year, 12.5 % of 8
}
