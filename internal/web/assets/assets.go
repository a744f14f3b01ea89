// Package assets serves what pages need from the application itself: styles, scripts, fonts, icons.
// Their addresses carry a hash of their contents, so that they can be kept for ever.
package assets

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"html/template"
	"io/fs"
	"maps"
	"mime"
	"path"
	"slices"
	"strings"
	"sync"

	"github.com/gofiber/fiber/v3"
)

//go:embed files
var embedded embed.FS

// File is one asset as it is served; it is packed the first time somebody asks for it so.
type File struct {
	Type   string
	Plain  []byte
	packed sync.Once
	gzip   []byte // nil where packing is no use
}

// Assets holds every file by its name.
type Assets struct {
	files map[string]*File
	build string
}

// New gathers the application's own files and what screens add, by name. Another release is another build of the
// same files.
func New(added map[string][]byte, release string) *Assets {
	a := &Assets{files: map[string]*File{}}
	sub, err := fs.Sub(embedded, "files")
	if err != nil {
		panic(err)
	}
	err = fs.WalkDir(sub, ".", func(name string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() {
			return err
		}
		body, err := fs.ReadFile(sub, name)
		a.files[name] = file(name, body)
		return err
	})
	if err != nil {
		panic(err) // the program was built without its files
	}
	for name, body := range added {
		a.files[name] = file(name, body)
	}
	sum := sha256.New()
	sum.Write([]byte(release))
	for _, name := range slices.Sorted(maps.Keys(a.files)) {
		sum.Write([]byte(name))
		sum.Write(a.files[name].Plain)
	}
	a.build = hex.EncodeToString(sum.Sum(nil))[:12]
	return a
}

func file(name string, body []byte) *File {
	kind := mime.TypeByExtension(path.Ext(name))
	switch path.Ext(name) {
	case ".js":
		kind = "text/javascript; charset=utf-8"
	case ".wasm":
		kind = "application/wasm"
	case ".woff2":
		kind = "font/woff2"
	}
	return &File{Type: kind, Plain: body}
}

// Gzip is the file packed, nil for what is packed already or small.
func (f *File) Gzip() []byte {
	f.packed.Do(func() {
		if strings.HasPrefix(f.Type, "font/") || strings.HasPrefix(f.Type, "image/png") || len(f.Plain) < 1024 {
			return
		}
		var out bytes.Buffer
		w := gzip.NewWriter(&out)
		_, err := w.Write(f.Plain)
		if w.Close() == nil && err == nil {
			f.gzip = out.Bytes()
		}
	})
	return f.gzip
}

// Build names this set of files.
func (a *Assets) Build() string { return a.build }

// Has tells whether there is a file of that name.
func (a *Assets) Has(name string) bool { return a.files[name] != nil }

// URL is a file's address.
func (a *Assets) URL(name string) string { return "/a/" + a.build + "/" + name }

// Icon is an icon's drawing, to stand inline beside its word.
func (a *Assets) Icon(name string) template.HTML {
	f, ok := a.files["icons/"+name+".svg"]
	if !ok {
		panic("no icon " + name) // a template names it wrongly: a page's test finds it
	}
	return template.HTML(f.Plain) //nolint:gosec // our own file
}

// Serve answers /a/:build/*.
func (a *Assets) Serve(c fiber.Ctx) error {
	f, ok := a.files[c.Params("*")]
	if !ok || c.Params("build") != a.build {
		return fiber.ErrNotFound
	}
	c.Set(fiber.HeaderCacheControl, "public, max-age=31536000, immutable")
	c.Set(fiber.HeaderContentType, f.Type)
	c.Set(fiber.HeaderVary, fiber.HeaderAcceptEncoding)
	if strings.Contains(c.Get(fiber.HeaderAcceptEncoding), "gzip") {
		if packed := f.Gzip(); packed != nil {
			c.Set(fiber.HeaderContentEncoding, "gzip")
			return c.Send(packed)
		}
	}
	return c.Send(f.Plain)
}
