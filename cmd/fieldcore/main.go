//go:build js && wasm

// Command fieldcore is the core for the browser: nothing but the door between JavaScript and
// core/session. It is loaded by the Worker of the Run screen and of a class, which holds a session for each dog.
package main

import (
	"runtime"
	"runtime/debug"
	"syscall/js"

	"patientfox/core/screen"
)

func main() {
	// A session is small and a tap must not wait: collect seldom, and when nobody does.
	debug.SetGCPercent(800)
	doors := map[string]*screen.Door{} // by the name that the page gives each session
	js.Global().Set("fieldcore", js.FuncOf(func(_ js.Value, args []js.Value) any {
		name := args[3].String()
		if doors[name] == nil {
			doors[name] = new(screen.Door)
		}
		return string(doors[name].Call(args[0].String(), []byte(args[1].String()), int64(args[2].Float())))
	}))
	js.Global().Set("fieldcoreRest", js.FuncOf(func(js.Value, []js.Value) any {
		runtime.GC()
		return nil
	}))
	js.Global().Call("fieldcoreReady")
	select {} // the Worker ends it
}
