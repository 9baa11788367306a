package api

import (
	"errors"
	"net/http"
	"os"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/files"
	"iter.example/iter/server/store"
)

// file answers with a file, or with ?thumb its small picture. What has a hash for a name never changes.
func (s *Server) file(c *gin.Context) {
	hash := c.Param("hash")
	if err := records.CheckHash(hash); err != nil {
		s.problem(c, http.StatusNotFound, msg.From(err))
		return
	}
	var f store.File
	var there bool
	d := who(c)
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) (err error) {
		if f, there, err = tx.File(hash); !there || d.Person.Has(records.Dispatcher, records.Reviewer, records.Stores) {
			return err
		}
		// Whoever may not see it is not told that it is there.
		there, err = tx.MaySee(d.PersonID, hash)
		return err
	})
	if err != nil {
		s.fail(c, err)
		return
	}
	path, typ := s.files.Path(hash), f.Type
	if _, small := c.GetQuery("thumb"); small {
		path, typ, there = s.files.ThumbPath(hash), "image/jpeg", there && f.Thumb
	}
	if !there {
		s.problem(c, http.StatusNotFound, msg.New("file.not_here"))
		return
	}
	in, err := os.Open(path)
	if errors.Is(err, os.ErrNotExist) {
		s.Log.Error("a file is missing", "file", path, "hint", "put it back from a backup; its name is the SHA-256 of what is in it")
		s.problem(c, http.StatusNotFound, msg.New("file.not_here"))
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	defer in.Close()
	h := c.Writer.Header()
	h.Set("Cache-Control", "private, max-age=31536000, immutable")
	h.Set("Content-Type", typ)
	h.Set("Content-Security-Policy", "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src 'self'")
	if strings.HasPrefix(typ, "text/") {
		h.Set("Content-Type", typ+"; charset=utf-8")
	}
	http.ServeContent(c.Writer, c.Request, "", f.Received, in)
}

// upload takes a file's pieces, over tus.
func (s *Server) upload(c *gin.Context) {
	if err := s.files.CheckUpload(c.Param("piece"), who(c).PersonID); err != nil {
		s.problem(c, http.StatusNotFound, msg.From(err))
		return
	}
	w := &own{ResponseWriter: c.Writer}
	defer w.end()
	// When a device comes back while the server still waits for the rest of a broken piece, tusd ends that wait by the
	// connection's deadline. A connection on which that was done serves no other request.
	w.Header().Set("Connection", "close")
	s.uploads.ServeHTTP(w, c.Request.WithContext(files.By(c.Request.Context(), who(c).PersonID)))
}

// own is a response whose deadline can be set only while its request lasts: tusd may do so a moment late, when gin has given
// the response to another.
type own struct {
	http.ResponseWriter
	mu   sync.Mutex
	over bool
}

func (w *own) SetReadDeadline(t time.Time) error {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.over {
		return nil
	}
	return http.NewResponseController(w.ResponseWriter).SetReadDeadline(t)
}

func (w *own) end() {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.over = true
}
