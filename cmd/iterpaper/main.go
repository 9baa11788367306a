//go:build js && wasm

// Command iterpaper prints service reports, as WebAssembly: it sets the global function iterPaper(report, files), and waits. report is
// JSON, files an object of Uint8Arrays by hash. What comes back is a Uint8Array, or JSON that says what is wrong.
package main

import (
	"encoding/json"
	"syscall/js"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/report"
	"iter.example/iter/core/report/printing"
)

func main() {
	js.Global().Set("iterPaper", js.FuncOf(func(_ js.Value, args []js.Value) any {
		pdf, err := printed(args[0].String(), args[1])
		if err != nil {
			text, _ := json.Marshal(msg.From(err))
			return string(text)
		}
		out := js.Global().Get("Uint8Array").New(len(pdf))
		js.CopyBytesToJS(out, pdf)
		return out
	}))
	select {}
}

func printed(text string, given js.Value) (pdf []byte, err error) {
	defer func() {
		if recover() != nil {
			pdf, err = nil, msg.New("core.broken", "call", "print")
		}
	}()
	var r report.Report
	if err := json.Unmarshal([]byte(text), &r); err != nil {
		return nil, msg.New("core.unreadable")
	}
	files := map[string][]byte{}
	for _, hash := range r.Files() {
		if f := given.Get(hash); f.Truthy() {
			files[hash] = make([]byte, f.Get("length").Int())
			js.CopyBytesToGo(files[hash], f)
		}
	}
	return printing.Print(r, files)
}
