package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"path/filepath"
	"strings"

	"patientfox/internal/app"
	"patientfox/internal/app/form"
)

// pair prints a code on this terminal, for whoever sits at it: the server may run meanwhile. Without a name it is for the one
// who keeps the practice.
func (o *options) pair(ctx context.Context, args []string, out io.Writer) (err error) {
	st, p, err := o.open(ctx, filepath.Join(o.data, "practice.db"))
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, st.Close()) }()
	v, err := p.Devices(ctx)
	if err != nil {
		return err
	}
	who := app.Named{}
	var names []string
	for _, one := range v.People {
		names = append(names, one.Name)
		if len(args) == 0 && who.ID == "" || len(args) > 0 && strings.EqualFold(one.Name, args[0]) {
			who = one
		}
	}
	if who.ID == "" {
		return fmt.Errorf("nobody here is called %q; there are %s", args[0], strings.Join(names, ", "))
	}
	code, err := p.Pair(ctx, form.Typed{"person": who.ID})
	if err != nil {
		return err
	}
	for at := 4; at < len(code); at += 5 {
		code = code[:at] + "-" + code[at:]
	}
	_, err = fmt.Fprintf(out, "%s\nlets one device in as %s, once, within ten minutes. Open Patient Fox there and type it.\n", code, who.Name)
	return err
}

func (o *options) forgetPassword(ctx context.Context, name string, out io.Writer) (err error) {
	st, p, err := o.open(ctx, filepath.Join(o.data, "practice.db"))
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, st.Close()) }()
	there, err := p.ForgetPassword(ctx, name)
	switch {
	case err != nil:
		return err
	case !there:
		return fmt.Errorf("nobody called %q has a password", name)
	}
	_, err = fmt.Fprintf(out, "%s has no password any more, and no device.\n", name)
	return err
}
