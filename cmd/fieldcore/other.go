//go:build !(js && wasm)

package main

import "fmt"

func main() { fmt.Println("fieldcore runs in the browser: build it with GOOS=js GOARCH=wasm") }
