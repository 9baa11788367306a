package sheet_test

import (
	"fmt"

	"iter.example/iter/core/sheet"
)

func ExampleCompiled_Fill() {
	c, _ := sheet.Compile(sheet.Sheet{ID: "pump", Version: 1, Title: "Pump",
		Sections: []sheet.Section{{Title: "State", Questions: []sheet.Question{
			{ID: "leak", Kind: sheet.YesNo, Text: "Any leak?", Required: true,
				On: []sheet.Trigger{{Is: sheet.Equals, Value: "yes", Hazard: "Leak"}}},
			{ID: "place", Kind: sheet.Text, Text: "Where?", Required: true,
				ShowIf: &sheet.Condition{Tests: []sheet.Test{{Question: "leak", Is: sheet.Equals, Value: "yes"}}}},
		}}}})
	for _, leak := range []string{"", "no", "yes"} {
		st := c.Fill(sheet.Given{Answers: map[string]sheet.Answer{"leak": {Value: leak}}})
		fmt.Printf("%q: %d of %d answered, %d missing, %d to tell the office\n", leak, st.Answered, st.Total, len(st.Missing),
			len(st.Alerts))
	}
	// Output:
	// "": 0 of 1 answered, 1 missing, 0 to tell the office
	// "no": 1 of 1 answered, 0 missing, 0 to tell the office
	// "yes": 1 of 2 answered, 1 missing, 1 to tell the office
}

func ExampleChanges() {
	before := sheet.Sheet{ID: "s", Version: 1, Title: "S",
		Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{{ID: "a", Kind: sheet.Text, Text: "A"},
			{ID: "b", Kind: sheet.Text, Text: "B"}}}}}
	after := sheet.Sheet{ID: "s", Version: 2, Title: "S",
		Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{{ID: "b", Kind: sheet.Text, Text: "B", Required: true},
			{ID: "c", Kind: sheet.Text, Text: "C"}}}}}
	for _, c := range sheet.Changes(before, after) {
		fmt.Println(c.What, c.Question, c.Fields)
	}
	// Output:
	// changed b [required]
	// added c []
	// removed a []
}
