// Package assets serves what pages need from the application itself: styles, scripts, fonts, icons.
// Their addresses carry a hash of their contents, so that they can be kept for ever.
package assets

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"html/template"
	"io"
	"io/fs"
	"maps"
	"mime"
	"path"
	"slices"
	"strings"
	"sync"

	"github.com/andybalholm/brotli"
	"github.com/gofiber/fiber/v3"
)

//go:embed files
var embedded embed.FS

// File is one asset as it is served. A name that ends in .br is a file that was packed when the program was built; it is
// served under its name without that. Safe for concurrent use.
type File struct {
	Type   string
	body   []byte
	packed bool // body is Brotli
	plain  func() ([]byte, error)
	gzip   func() ([]byte, error) // which is nil where packing is no use
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
		name, packed := strings.CutSuffix(name, ".br")
		a.files[name] = file(name, body)
		a.files[name].packed = packed
	}
	sum := sha256.New()
	sum.Write([]byte(release))
	for _, name := range slices.Sorted(maps.Keys(a.files)) {
		sum.Write([]byte(name))
		sum.Write(a.files[name].body)
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
	f := &File{Type: kind, body: body}
	f.plain = sync.OnceValues(f.unpack)
	f.gzip = sync.OnceValues(f.pack)
	return f
}

// unpack is the file as it is.
func (f *File) unpack() ([]byte, error) {
	if !f.packed {
		return f.body, nil
	}
	return io.ReadAll(brotli.NewReader(bytes.NewReader(f.body)))
}

// pack is the file as gzip, nil where that is no use.
func (f *File) pack() ([]byte, error) {
	plain, err := f.plain()
	if err != nil || strings.HasPrefix(f.Type, "font/") || strings.HasPrefix(f.Type, "image/png") || len(plain) < 1024 {
		return nil, err
	}
	var out bytes.Buffer
	w := gzip.NewWriter(&out)
	_, err = w.Write(plain)
	err = errors.Join(err, w.Close())
	return out.Bytes(), err
}

// As is the file for a browser that takes these encodings, and the one that it is in, "" for none.
func (f *File) As(accepted string) (body []byte, encoding string, err error) {
	takes := func(name string) bool {
		return slices.ContainsFunc(strings.Split(accepted, ","), func(one string) bool {
			coding, weight, _ := strings.Cut(one, ";")
			return strings.TrimSpace(coding) == name && strings.ReplaceAll(weight, " ", "") != "q=0"
		})
	}
	if f.packed && takes("br") {
		return f.body, "br", nil
	}
	if takes("gzip") {
		if body, err = f.gzip(); body != nil || err != nil {
			return body, "gzip", err
		}
	}
	body, err = f.plain()
	return body, "", err
}

// Build names this set of files.
func (a *Assets) Build() string { return a.build }

// Has tells whether there is a file of that name.
func (a *Assets) Has(name string) bool { return a.files[name] != nil }

// Text is what a script or a style says, to stand in a page that is sent as a file.
func (a *Assets) Text(name string) string {
	f, ok := a.files[name]
	if !ok {
		panic("no file " + name)
	}
	return string(f.body)
}

// URL is a file's address.
func (a *Assets) URL(name string) string { return "/a/" + a.build + "/" + name }

// Icon is an icon's drawing, to stand inline beside its word.
func (a *Assets) Icon(name string) template.HTML {
	f, ok := a.files["icons/"+name+".svg"]
	if !ok {
		panic("no icon " + name) // a template names it wrongly: a page's test finds it
	}
	return template.HTML(f.body) //nolint:gosec // our own file
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
	body, encoding, err := f.As(c.Get(fiber.HeaderAcceptEncoding))
	if err != nil {
		return err
	}
	if encoding != "" {
		c.Set(fiber.HeaderContentEncoding, encoding)
	}
	return c.Send(body)
}
