package main

import (
	"fmt"
	"net/http"
	"reflect"

	"iter.example/iter/server/api"
)

// routes prints what the ways in over HTTP ask and answer, by their paths.
func (p *printer) routes() {
	fmt.Println("\n/** What questions answer, by path; a query says what is asked for beside what is in the path. " +
		"*/\nexport interface Questions {")
	for _, r := range api.Routes() {
		if r.Typed && r.Method == http.MethodGet {
			fmt.Printf("  %q: { query: %s; answer: %s };\n", r.Path, p.orNone(r.Query), p.orNone(r.Answer))
		}
	}
	fmt.Println("}\n\n/** What is sent to do something and what it answers, by path. */\nexport interface Acts {")
	for _, r := range api.Routes() {
		if r.Typed && r.Method == http.MethodPost {
			fmt.Printf("  %q: { body: %s; answer: %s };\n", r.Path, p.orNone(r.Body), p.orNone(r.Answer))
		}
	}
	fmt.Println("}")
}

// orNone is a type, or what stands for none.
func (p *printer) orNone(t reflect.Type) string {
	if t == nil {
		return "unknown"
	}
	return p.typ(t)
}
