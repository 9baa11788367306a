package printing

// words are what is printed around what a report says, in one language.
type words struct {
	Title, Order, Customer, Site, Asset, Serial, Problem, Ended, Outcome string
	Time, Person, Travel, Work, Wait                                     string
	Tasks, Findings, Readings, Point, Value, Limits, State               string
	Parts, Part, Quantity, Advice, Photos, Before, After                 string
	Signatures, Signed, Changed, Unsigned, Code, CodeHint                string
	Unshown, Beside                                                      string
	Accepted, Declined, Open, Removed, Done, Held                        string
	Yes, No                                                              string
	Levels                                                               map[string]string
}

var catalogue = map[string]words{"en": {
	Title: "Service report", Order: "Work order", Customer: "Customer", Site: "Site", Asset: "Machine", Serial: "Serial no.",
	Problem: "Work asked for", Ended: "Finished", Outcome: "Outcome",
	Time: "Time", Person: "Who", Travel: "Travel", Work: "Work", Wait: "Waiting",
	Tasks: "Tasks", Findings: "Work and findings", Readings: "Readings", Point: "What was measured", Value: "Value", Limits: "Limits",
	State: "State",
	Parts: "Parts and material", Part: "Part", Quantity: "Quantity", Advice: "Recommended", Photos: "Photos", Before: "before",
	After:      "after",
	Signatures: "Signatures", Signed: "signed on", Changed: "Something was added or changed after this signature.", Unsigned: "Not signed",
	Code:     "Code",
	CodeHint: "Whoever has this report can check at the address in the square, or by this code, that it is as we made it.",
	Unshown:  "\u25a1 stands for a letter that this paper can't show; the record holds it as it was written.",
	Beside:   "%d more photos are kept with the visit.",
	Accepted: "accepted", Declined: "not wanted", Open: "not answered", Removed: "taken out", Done: "done", Held: "on hold", Yes: "yes",
	No:     "no",
	Levels: map[string]string{"ok": "in limits", "low": "low", "high": "high", "alarm_low": "too low", "alarm_high": "too high"},
}}

func wordsIn(language string) words {
	if w, ok := catalogue[language]; ok {
		return w
	}
	return catalogue["en"]
}
