package work

import "iter.example/iter/core/audit"

// Diagnosis is what somebody on a visit says was wrong with a machine, why, and what was done about it: by the ids of the company's tree
// (core/trouble).
type Diagnosis struct {
	audit.Line
	Asset   string `json:"asset,omitempty"`
	Trouble string `json:"trouble,omitempty"`
	Cause   string `json:"cause,omitempty"`
	Remedy  string `json:"remedy,omitempty"`
}

// explained tells whether cause and remedy of a trouble were said.
func (v Visit) explained() bool {
	var cause, remedy bool
	for _, f := range v.Diagnoses {
		cause, remedy = cause || !f.Struck && f.Cause != "", remedy || !f.Struck && f.Remedy != ""
	}
	return cause && remedy
}
