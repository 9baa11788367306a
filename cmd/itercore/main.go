//go:build js && wasm

// Command itercore is the core as WebAssembly: it sets the global function iterCore(name, json) and waits.
package main

import (
	"syscall/js"

	"iter.example/iter/core/bridge"
)

func main() {
	js.Global().Set("iterCore", js.FuncOf(func(_ js.Value, args []js.Value) any {
		return string(bridge.Call(args[0].String(), []byte(args[1].String())))
	}))
	select {}
}
