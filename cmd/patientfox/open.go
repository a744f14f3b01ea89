package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"runtime"
	"strings"
)

// openOrServe is what a double-click does: it shows the page of the Patient Fox that runs, or serves and shows that one.
func (o *options) openOrServe(ctx context.Context, out io.Writer) error {
	held, err := lock(o.database())
	var served *servedError
	if errors.As(err, &served) {
		address, err := os.ReadFile(addressFile(o.database()))
		if err != nil {
			return served
		}
		fmt.Fprintf(out, "Patient Fox runs already, at %s\n", address)
		return show(ctx, strings.TrimSpace(string(address)))
	}
	if err != nil {
		return err
	}
	if err := held.Unlock(); err != nil {
		return err
	}
	o.daily, o.show = true, true
	return o.serve(ctx, o.database(), out)
}

// addressFile is where a server says at which address it is.
func addressFile(path string) string { return path + ".address" }

// show opens an address in the browser, where there is one to be opened.
func show(ctx context.Context, address string) error {
	if os.Getenv("PATIENTFOX_NO_BROWSER") != "" {
		return nil
	}
	name, args := "xdg-open", []string{address}
	switch runtime.GOOS {
	case "windows":
		name, args = "rundll32", []string{"url.dll,FileProtocolHandler", address}
	case "darwin":
		name = "open"
	}
	if _, err := exec.LookPath(name); err != nil {
		return nil // the address is on the terminal
	}
	return exec.CommandContext(ctx, name, args...).Start()
}
