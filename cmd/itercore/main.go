//go:build js && wasm

// Command itercore is the core as WebAssembly: it sets the global function iterCore(name, json) and waits.
package main

import (
	"runtime/debug"
	"syscall/js"

	"iter.example/iter/core/bridge"
)

// garbage is how much more memory is used before it is collected, in per cent of what is in use. A collection stops a screen for
// longer than a call takes, and there is little in use.
const garbage = 800

func main() {
	debug.SetGCPercent(garbage)
	js.Global().Set("iterCore", js.FuncOf(func(_ js.Value, args []js.Value) any {
		return string(bridge.Call(args[0].String(), []byte(args[1].String())))
	}))
	select {}
}
