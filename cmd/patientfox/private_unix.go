//go:build unix

package main

import "syscall"

// private makes whatever this process writes its owner's alone.
func private() { syscall.Umask(0o077) }
