//go:build js && wasm

// Command iteroffice is what the office's screens work out at once, as WebAssembly: it sets the global functions
// iterOpenDay(json, table) and iterAskDay(name, json), and waits.
package main

import (
	"runtime/debug"
	"syscall/js"

	"iter.example/iter/core/plan"
)

// garbage is how much more memory is used before it is collected, in per cent of what is in use: a drag must not wait for it.
const garbage = 800

func main() {
	debug.SetGCPercent(garbage)
	var day plan.Day
	js.Global().Set("iterOpenDay", js.FuncOf(func(_ js.Value, args []js.Value) any {
		table := make([]byte, args[1].Length())
		js.CopyBytesToGo(table, args[1])
		opened, err := plan.OpenDay([]byte(args[0].String()), int(args[2].Int()), table)
		if err != nil {
			return err.Error()
		}
		day = *opened
		return ""
	}))
	js.Global().Set("iterAskDay", js.FuncOf(func(_ js.Value, args []js.Value) any {
		return string(day.Ask([]byte(args[0].String())))
	}))
	select {}
}
