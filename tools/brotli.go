//go:build ignore

// Command brotli packs a file: brotli LEVEL FROM TO.
package main

import (
	"log"
	"os"
	"strconv"

	"github.com/andybalholm/brotli"
)

func main() {
	level, err := strconv.Atoi(os.Args[1])
	if err != nil {
		log.Fatal(err)
	}
	plain, err := os.ReadFile(os.Args[2])
	if err != nil {
		log.Fatal(err)
	}
	out, err := os.Create(os.Args[3])
	if err != nil {
		log.Fatal(err)
	}
	packed := brotli.NewWriterLevel(out, level)
	if _, err := packed.Write(plain); err != nil {
		log.Fatal(err)
	}
	if err := packed.Close(); err != nil {
		log.Fatal(err)
	}
	if err := out.Close(); err != nil {
		log.Fatal(err)
	}
}
