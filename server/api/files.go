package api

import (
	"errors"
	"net/http"
	"os"
	"strings"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/work"
	"iter.example/iter/server/files"
	"iter.example/iter/server/store"
)

// file answers with a file, or with ?thumb its small picture. What has a hash for a name never changes.
func (s *Server) file(c *gin.Context) {
	hash := c.Param("hash")
	if err := work.CheckHash(hash); err != nil {
		s.problem(c, http.StatusNotFound, msg.From(err))
		return
	}
	var f store.File
	var there bool
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) (err error) {
		f, there, err = tx.File(hash)
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

// upload takes a file's pieces, over tus. It is no gin route: tusd may touch a response a moment after its request is over,
// when gin has already given the response to another.
func (s *Server) upload(w http.ResponseWriter, r *http.Request) {
	d, err := s.identify(r)
	switch {
	case errors.Is(err, errSignIn):
		writeProblem(w, http.StatusUnauthorized, errSignIn)
	case err != nil:
		s.Log.Error("request failed", "route", files.UploadPath, "error", err)
		writeProblem(w, http.StatusInternalServerError, msg.New("server.failed"))
	default:
		w.Header().Set("Cache-Control", "no-store")
		s.uploads.ServeHTTP(w, r.WithContext(files.By(r.Context(), d.PersonID)))
	}
}
