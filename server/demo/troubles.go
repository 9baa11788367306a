package demo

import (
	"fmt"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/trouble"
)

// troubles is the company's tree: of pumps mostly, as it would be after some years.
var troubles = trouble.Settings{Intake: true, Tree: []trouble.Node{
	{ID: "flow", Kind: trouble.Trouble, Text: "Too little water"},
	{ID: "flow.none", Parent: "flow", Kind: trouble.Trouble, Text: "No water at all"},
	{ID: "flow.low", Parent: "flow", Kind: trouble.Trouble, Text: "Low pressure or flow"},
	{ID: "noise", Kind: trouble.Trouble, Text: "Noise or vibration"},
	{ID: "trips", Kind: trouble.Trouble, Text: "Trips or will not start"},
	{ID: "leak", Kind: trouble.Trouble, Text: "Leak"},
	{ID: "quality", Kind: trouble.Trouble, Text: "Water quality", Assets: []string{"dosing", "uv", "filter"}},
	{ID: "cooling", Kind: trouble.Trouble, Text: "Does not cool", Assets: []string{"chiller"}},
	{ID: "strainer", Parent: "flow.low", Kind: trouble.Cause, Text: "Strainer blocked"},
	{ID: "impeller", Parent: "flow.low", Kind: trouble.Cause, Text: "Impeller worn"},
	{ID: "air", Parent: "flow", Kind: trouble.Cause, Text: "Air in the suction line"},
	{ID: "bearing", Parent: "noise", Kind: trouble.Cause, Text: "Bearing worn"},
	{ID: "alignment", Parent: "noise", Kind: trouble.Cause, Text: "Coupling out of line"},
	{ID: "overload", Parent: "trips", Kind: trouble.Cause, Text: "Motor overloaded"},
	{ID: "contactor", Parent: "trips", Kind: trouble.Cause, Text: "Contactor burnt"},
	{ID: "seal", Parent: "leak", Kind: trouble.Cause, Text: "Mechanical seal worn"},
	{ID: "gasket", Parent: "leak", Kind: trouble.Cause, Text: "Gasket hard"},
	{ID: "prime", Parent: "quality", Kind: trouble.Cause, Text: "Dosing pump lost its prime", Assets: []string{"dosing"}},
	{ID: "lamp", Parent: "quality", Kind: trouble.Cause, Text: "Lamp at its end", Assets: []string{"uv"}},
	{ID: "condenser", Parent: "cooling", Kind: trouble.Cause, Text: "Condenser dirty"},
	{ID: "age", Kind: trouble.Cause, Text: "Wear and age"},
	{ID: "cleaned", Kind: trouble.Remedy, Text: "Cleaned"},
	{ID: "replaced", Kind: trouble.Remedy, Text: "Part replaced"},
	{ID: "adjusted", Kind: trouble.Remedy, Text: "Adjusted"},
	{ID: "bled", Parent: "air", Kind: trouble.Remedy, Text: "Bled, joint made tight"},
	{ID: "aligned", Parent: "alignment", Kind: trouble.Remedy, Text: "Aligned with the laser"},
}}

// diagnoses are what people say was wrong with kinds of machine.
var diagnoses = map[string]ledger.TroubleFound{
	"booster":  {Trouble: "flow.low", Cause: "air", Remedy: "bled"},
	"borehole": {Trouble: "flow.low", Cause: "strainer", Remedy: "cleaned"},
	"dosing":   {Trouble: "quality", Cause: "prime", Remedy: "adjusted"},
	"uv":       {Trouble: "quality", Cause: "lamp", Remedy: "replaced"},
	"chiller":  {Trouble: "cooling", Cause: "condenser", Remedy: "cleaned"},
	"panel":    {Trouble: "trips", Cause: "contactor", Remedy: "replaced"},
}

// learned is what the company has written down.
func (g *generator) learned(at time.Time) error {
	for i, k := range []records.KnowHow{
		{Title: "Bleeding a booster set after work on the suction side", Kinds: []string{"booster"}, Author: "mirin",
			Text: "Close the outlet, open the screw on top of each pump a turn, and let it run until no more bubbles come. Pump 2 " +
				"stands higher than the rest and needs it twice. Only then open the outlet, slowly: the vessel bangs otherwise."},
		{Title: "A dosing pump that loses its prime", Kinds: []string{"dosing"}, Troubles: []string{"quality"}, Author: "mirin",
			Text: "It is the foot valve nine times out of ten: crystals keep it open. Warm water clears them, acid is not needed. Look at the " +
				"hose above the liquid too: a hair crack lets air in."},
		{Title: "Milk chillers trip on the first warm day", Kinds: []string{"chiller"}, Troubles: []string{"cooling"}, Author: "mirin",
			Text: "The condenser is full of hay dust by May. Blow it out from the inside, never with water while it runs. The high side should " +
				"fall below 15 bar within ten minutes."},
	} {
		if err := g.record("knowhow", fmt.Sprintf("k%d", i+1), at, k); err != nil {
			return err
		}
	}
	return nil
}
