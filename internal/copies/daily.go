package copies

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"sync"
	"time"

	"patientfox/internal/store"
)

// How many daily copies are kept: the newest of each of the last days, weeks and months.
const (
	days   = 7
	weeks  = 4
	months = 12
)

// roomFor is how many times the database's size must be free for a copy to be made.
const roomFor = 3

// Copy is one daily copy beside the database.
type Copy struct {
	Name   string // of its file
	Path   string
	Made   time.Time
	Bytes  int64
	Proved time.Time // when it was last proved readable, zero for never
}

// Keeper keeps the daily copies of one database. It is safe for concurrent use.
type Keeper struct {
	Path    string // of the database
	Program string
	Now     func() time.Time
	Free    func(folder string) (uint64, error) // bytes free, for tests; nil asks the system

	busy   sync.Mutex // one copy at a time
	lock   sync.Mutex
	making bool
	said   error // why the last one was not made, nil where it was
	proved map[string]time.Time
}

// Folder is where the copies lie.
func (k *Keeper) Folder() string { return filepath.Join(filepath.Dir(k.Path), "copies") }

var copyName = regexp.MustCompile(`^[\w.-]*-(\d{4}-\d\d-\d\dT\d{6}Z)\.zip$`)

const copyTime = "2006-01-02T150405Z"

// List lists the copies, the newest first.
func (k *Keeper) List() (list []Copy, err error) {
	entries, err := os.ReadDir(k.Folder())
	if errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	for _, e := range entries {
		part := copyName.FindStringSubmatch(e.Name())
		if part == nil {
			continue
		}
		made, err := time.Parse(copyTime, part[1])
		info, infoErr := e.Info()
		if err != nil || infoErr != nil {
			continue
		}
		k.lock.Lock()
		proved := k.proved[e.Name()]
		k.lock.Unlock()
		list = append(list, Copy{e.Name(), filepath.Join(k.Folder(), e.Name()), made, info.Size(), proved})
	}
	slices.SortFunc(list, func(a, b Copy) int { return b.Made.Compare(a.Made) })
	return list, err
}

// State tells whether a copy is being made, and why the last one was not.
func (k *Keeper) State() (making bool, said error) {
	k.lock.Lock()
	defer k.lock.Unlock()
	return k.making, k.said
}

// ErrNoRoom says that a copy was not made for want of space.
type ErrNoRoom struct{ Free, Wanted uint64 }

func (e *ErrNoRoom) Error() string {
	return fmt.Sprintf("%s are free on its disk, and %s are wanted. Free some space, or copy to another disk", Size(e.Free), Size(e.Wanted))
}

// Size writes bytes as "12 KB", "3.4 MB" or "2.1 GB".
func Size(bytes uint64) string {
	switch {
	case bytes < 1<<20:
		return fmt.Sprintf("%d KB", (bytes+1<<10-1)>>10)
	case bytes < 1<<30:
		return fmt.Sprintf("%.1f MB", float64(bytes)/(1<<20))
	}
	return fmt.Sprintf("%.1f GB", float64(bytes)/(1<<30))
}

// Make makes a copy now, proves it readable, and takes away those that are no longer kept.
func (k *Keeper) Make(ctx context.Context) (c Copy, err error) {
	k.busy.Lock()
	defer k.busy.Unlock()
	k.set(true, nil)
	defer func() { k.set(false, err) }()
	defer func() {
		if err != nil {
			err = fmt.Errorf("no copy was made: %w", err)
		}
	}()
	bytes, err := databaseBytes(k.Path)
	if err != nil {
		return c, err
	}
	if err := os.MkdirAll(k.Folder(), 0o700); err != nil {
		return c, err
	}
	free := k.Free
	if free == nil {
		free = freeBytes
	}
	if room, err := free(k.Folder()); err == nil && room < roomFor*bytes {
		return c, &ErrNoRoom{room, roomFor * bytes}
	}
	now := k.Now().UTC()
	c.Name = fmt.Sprintf("%s-%s.zip", base(k.Path), now.Format(copyTime))
	c.Path, c.Made = filepath.Join(k.Folder(), c.Name), now
	if _, err := Backup(ctx, k.Path, c.Path, Options{Program: k.Program, Now: now}); err != nil {
		return c, err
	}
	k.lock.Lock()
	if k.proved == nil {
		k.proved = map[string]time.Time{}
	}
	k.proved[c.Name] = k.Now() // Backup reads back what it wrote
	k.lock.Unlock()
	return c, k.thin()
}

// databaseBytes is how large a database is, with what waits in its log to be put in.
func databaseBytes(path string) (uint64, error) {
	info, err := os.Stat(path)
	if err != nil {
		return 0, err
	}
	bytes := uint64(info.Size())
	if log, err := os.Stat(path + "-wal"); err == nil {
		bytes += uint64(log.Size())
	}
	return bytes, nil
}

func (k *Keeper) set(making bool, said error) {
	k.lock.Lock()
	defer k.lock.Unlock()
	k.making, k.said = making, said
}

func base(path string) string {
	name := filepath.Base(path)
	return name[:len(name)-len(filepath.Ext(name))]
}

// Prove checks the newest copy that was not proved today.
func (k *Keeper) Prove(ctx context.Context) error {
	list, err := k.List()
	if err != nil || len(list) == 0 {
		return err
	}
	if newest := list[0]; k.Now().Sub(newest.Proved) > 24*time.Hour {
		k.busy.Lock()
		defer k.busy.Unlock()
		if _, err := Verify(ctx, newest.Path, ""); err != nil {
			err = fmt.Errorf("the newest copy could not be read back: %w", err)
			k.set(false, err)
			return err
		}
		k.lock.Lock()
		if k.proved == nil {
			k.proved = map[string]time.Time{}
		}
		k.proved[newest.Name], k.said = k.Now(), nil
		k.lock.Unlock()
	}
	return nil
}

// thin takes away the copies that are no longer kept.
func (k *Keeper) thin() error {
	list, err := k.List()
	if err != nil {
		return err
	}
	kept := Kept(list)
	for _, c := range list {
		if !kept[c.Name] {
			err = errors.Join(err, os.Remove(c.Path))
		}
	}
	return err
}

// Kept tells which of some copies, the newest first, are kept: the newest of each of the last 7 days, 4 weeks and 12 months
// on which there are any.
func Kept(list []Copy) map[string]bool {
	kept := map[string]bool{}
	for _, span := range []struct {
		most int
		of   func(time.Time) string
	}{
		{days, func(t time.Time) string { return t.Format("2006-01-02") }},
		{weeks, func(t time.Time) string { year, week := t.ISOWeek(); return fmt.Sprint(year, "-", week) }},
		{months, func(t time.Time) string { return t.Format("2006-01") }},
	} {
		seen := map[string]bool{}
		for _, c := range list {
			if in := span.of(c.Made.UTC()); !seen[in] && len(seen) < span.most {
				seen[in], kept[c.Name] = true, true
			}
		}
	}
	return kept
}

// Daily makes a copy on each day on which there is none, and proves the newest, until the context ends. What goes wrong is
// told and tried again after an hour.
func (k *Keeper) Daily(ctx context.Context, failed func(error)) {
	for {
		if err := k.due(ctx); err != nil && ctx.Err() == nil {
			failed(err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(time.Hour):
		}
	}
}

func (k *Keeper) due(ctx context.Context) error {
	list, err := k.List()
	if err != nil {
		return err
	}
	today := k.Now().UTC().Format("2006-01-02")
	if len(list) == 0 || list[0].Made.UTC().Format("2006-01-02") != today {
		_, err := k.Make(ctx)
		return err
	}
	return k.Prove(ctx)
}

func keysOf(path string) string { return store.KeysPath(path) }
