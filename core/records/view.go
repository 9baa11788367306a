package records

import "iter.example/iter/core/msg"

// ListView is how somebody looks at a list: its filters, order and columns, kept under a name.
type ListView struct {
	Name  string `json:"name"`
	List  string `json:"list"`
	Owner string `json:"owner"` // who alone changes it
	// Shared tells that others see it too.
	Shared bool   `json:"shared,omitempty"`
	Query  string `json:"query"` // as in the address of the list
	// Gone tells that its owner wants it no longer.
	Gone bool `json:"gone,omitempty"`
}

// maxQuery is how long what an address asks for may be, in characters.
const maxQuery = 4000

// Check says what a view lacks.
func (v ListView) Check() error {
	if err := CheckID(v.Owner); err != nil {
		return err
	}
	if err := CheckText("list", v.List, true, 40); err != nil {
		return err
	}
	if err := CheckText("query", v.Query, false, maxQuery); err != nil {
		return err
	}
	return CheckText("name", v.Name, true, 80)
}

// OwnedBy says whether a person may make or change the view: their own alone.
func (v ListView) OwnedBy(person string) error {
	if v.Owner != person {
		return msg.New("view.owner")
	}
	return nil
}
