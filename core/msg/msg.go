// Package msg carries what the core has to say to people: a code and its arguments, never a sentence.
// The sentences are in the message catalogues of the interface, so another language is only another catalogue.
package msg

import (
	"errors"
	"sort"
	"strings"
)

// Code is something to tell a person. It is an error too, so that a rule can return it.
type Code struct {
	Code string            `json:"code"`
	Args map[string]string `json:"args,omitempty"`
}

// New makes a Code from a code and pairs of argument name and value.
// A last name without a value is given an empty one.
func New(code string, pairs ...string) *Code {
	c := &Code{Code: code}
	for i := 0; i < len(pairs); i += 2 {
		if c.Args == nil {
			c.Args = map[string]string{}
		}
		v := ""
		if i+1 < len(pairs) {
			v = pairs[i+1]
		}
		c.Args[pairs[i]] = v
	}
	return c
}

// Error is for logs: the code, then the arguments by name.
func (c *Code) Error() string {
	names := make([]string, 0, len(c.Args))
	for n := range c.Args {
		names = append(names, n)
	}
	sort.Strings(names)
	var b strings.Builder
	b.WriteString(c.Code)
	for _, n := range names {
		b.WriteString(" " + n + "=" + c.Args[n])
	}
	return b.String()
}

// From gives the Code inside err, or one that says only that something failed.
func From(err error) *Code {
	if err == nil {
		return nil
	}
	if c, ok := errors.AsType[*Code](err); ok {
		return c
	}
	return New("unreadable")
}
