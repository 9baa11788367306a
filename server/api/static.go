package api

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
)

// static serves the built front end: each file as it was packed when it was built, the ones with a digest in their name for
// ever, and the page for every other address, since the page finds its way by itself.
type static struct {
	files map[string]file
}

type file struct {
	kind    string
	raw     []byte
	packed  map[string][]byte // by content encoding
	forever bool
}

var encodings = []struct{ name, ending string }{{"br", ".br"}, {"gzip", ".gz"}}

func newStatic(dist fs.FS) (*static, error) {
	s := &static{files: map[string]file{}}
	err := fs.WalkDir(dist, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || strings.HasSuffix(name, ".br") || strings.HasSuffix(name, ".gz") {
			return err
		}
		f := file{kind: mime.TypeByExtension(path.Ext(name)), packed: map[string][]byte{}, forever: strings.HasPrefix(name, "assets/")}
		switch path.Ext(name) {
		case ".webmanifest":
			f.kind = "application/manifest+json"
		case ".woff2":
			f.kind = "font/woff2"
		}
		if f.raw, err = fs.ReadFile(dist, name); err != nil {
			return err
		}
		for _, e := range encodings {
			if b, err := fs.ReadFile(dist, name+e.ending); err == nil {
				f.packed[e.name] = b
			} else if !errors.Is(err, fs.ErrNotExist) {
				return err
			}
		}
		s.files["/"+name] = f
		return nil
	})
	if err != nil {
		return nil, fmt.Errorf("read front end: %w", err)
	}
	return s, nil
}

// policy lets the page run only what the program ships. The core is WebAssembly; styles are made at run time under the nonce.
const policy = "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'nonce-%s'; img-src 'self' data: blob:; " +
	"object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"

const noncePlace = "__NONCE__"

func (s *static) serve(c *gin.Context) {
	if c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
		writeProblem(c.Writer, http.StatusMethodNotAllowed, problemOf(http.StatusMethodNotAllowed, msg.New("http.method")))
		return
	}
	name := path.Clean(c.Request.URL.Path)
	f, ok := s.files[name]
	if name == "/index.html" || !ok {
		if path.Ext(name) != "" && name != "/index.html" {
			writeProblem(c.Writer, http.StatusNotFound, problemOf(http.StatusNotFound, msg.New("http.not_found")))
			return
		}
		s.page(c)
		return
	}
	h := c.Writer.Header()
	h.Set("Content-Type", f.kind)
	h.Set("Vary", "Accept-Encoding")
	if f.forever {
		h.Set("Cache-Control", "public, max-age=31536000, immutable")
	} else {
		h.Set("Cache-Control", "no-cache")
	}
	out := f.raw
	accepts := c.GetHeader("Accept-Encoding")
	for _, e := range encodings {
		if b, ok := f.packed[e.name]; ok && strings.Contains(accepts, e.name) {
			h.Set("Content-Encoding", e.name)
			out = b
			break
		}
	}
	h.Set("Content-Length", strconv.Itoa(len(out)))
	c.Status(http.StatusOK)
	_, _ = c.Writer.Write(out)
}

// page serves the one page, with a nonce of its own.
func (s *static) page(c *gin.Context) {
	f, ok := s.files["/index.html"]
	if !ok {
		writeProblem(c.Writer, http.StatusNotFound, problemOf(http.StatusNotFound, msg.New("http.no_front_end")))
		return
	}
	n := nonce()
	h := c.Writer.Header()
	h.Set("Content-Type", "text/html; charset=utf-8")
	h.Set("Cache-Control", "no-cache")
	h.Set("Content-Security-Policy", fmt.Sprintf(policy, n))
	c.Status(http.StatusOK)
	_, _ = c.Writer.Write(bytes.ReplaceAll(f.raw, []byte(noncePlace), []byte(n)))
}
