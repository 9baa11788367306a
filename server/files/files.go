// Package files keeps photos and documents: each whole, checked, and named by the hash of what is in it.
//
// A file travels apart from the entries that mention it, over the tus protocol, and may arrive in many pieces. It counts as
// there once its last piece has come, its hash is right and its content is of a type that is taken.
package files

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // photos come as JPEG, PNG or WebP
	"io"
	"io/fs"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
)

// Dir is where files are kept: in a directory beside the database.
type Dir struct {
	path    string
	drawing sync.Mutex // one photo at a time is decoded: each may take as much memory as maxDecoded
}

// Open opens the files beside a store.
func Open(s *store.Store) (*Dir, error) {
	d := &Dir{path: filepath.Join(s.Dir(), store.FilesDir)}
	if err := os.MkdirAll(d.partial(), 0o700); err != nil {
		return nil, fmt.Errorf("open files: %w", err)
	}
	return d, nil
}

func (d *Dir) partial() string { return filepath.Join(d.path, "partial") }

// Path is where a file lies. The hash must have been checked.
func (d *Dir) Path(hash string) string { return filepath.Join(d.path, hash[:2], hash) }

// Read gives what is in a file. The hash must have been checked.
func (d *Dir) Read(hash string) ([]byte, error) { return os.ReadFile(d.Path(hash)) }

// ThumbPath is where the thumbnail of a photo lies.
func (d *Dir) ThumbPath(hash string) string { return d.Path(hash) + ".thumb" }

// Take takes in a file that has arrived whole at from: it checks hash and type, makes a thumbnail of a photo, and moves the
// file to its place. The error is a *msg.Code when the file is not what it should be; from is then removed.
func (d *Dir) Take(from, hash string) (store.File, error) {
	f := store.File{Hash: hash}
	if err := records.CheckHash(hash); err != nil {
		return f, err
	}
	got, typ, size, err := look(from)
	if err != nil {
		return f, fmt.Errorf("take file %s: %w", hash, err)
	}
	f.Type, f.Size = typ, size
	switch {
	case got != hash:
		err = msg.New("file.hash")
	case !slices.Contains(records.FileTypes, typ):
		err = msg.New("file.type", "type", records.Clip(typ))
	}
	if err != nil {
		return f, errors.Join(err, os.Remove(from))
	}
	if err := os.MkdirAll(filepath.Dir(d.Path(hash)), 0o700); err != nil {
		return f, fmt.Errorf("take file %s: %w", hash, err)
	}
	// A photo that can't be drawn small is kept all the same: it may be what somebody needs.
	f.Thumb = strings.HasPrefix(typ, "image/") && d.thumbnail(from, d.ThumbPath(hash)) == nil
	if err := os.Rename(from, d.Path(hash)); err != nil {
		return f, fmt.Errorf("take file %s: %w", hash, err)
	}
	return f, syncDir(filepath.Dir(d.Path(hash)))
}

// TakeFrom takes in a file that is read from r.
func (d *Dir) TakeFrom(r io.Reader, hash string) (store.File, error) {
	t, err := os.CreateTemp(d.partial(), "whole-")
	if err != nil {
		return store.File{}, err
	}
	_, err = io.Copy(t, io.LimitReader(r, records.MaxFile+1))
	if err = errors.Join(err, t.Sync(), t.Close()); err != nil {
		return store.File{}, errors.Join(err, os.Remove(t.Name()))
	}
	return d.Take(t.Name(), hash)
}

// look reads a file once: its hash, its type by content, its size.
func look(path string) (hash, typ string, size int64, err error) {
	r, err := os.Open(path)
	if err != nil {
		return "", "", 0, err
	}
	defer r.Close()
	head := make([]byte, 512)
	n, err := io.ReadFull(r, head)
	if err != nil && !errors.Is(err, io.ErrUnexpectedEOF) && !errors.Is(err, io.EOF) {
		return "", "", 0, err
	}
	h := sha256.New()
	h.Write(head[:n])
	rest, err := io.Copy(h, r)
	typ, _, _ = strings.Cut(http.DetectContentType(head[:n]), ";")
	return hex.EncodeToString(h.Sum(nil)), typ, int64(n) + rest, err
}

// thumbSize is how wide and high thumbnails are at most. Photos that take more memory than maxDecoded to decode are not drawn.
const (
	thumbSize  = 400
	maxDecoded = 256 << 20
)

// decoded is about how many bytes it takes to decode a picture: a small file may say that it is huge.
func decoded(c image.Config, format string) int64 {
	pixel := int64(4)
	switch {
	case format == "jpeg":
		pixel = 12 // progressive ones keep coefficients of four bytes for each of three colours
	case c.ColorModel == color.RGBA64Model, c.ColorModel == color.NRGBA64Model, c.ColorModel == color.Gray16Model:
		pixel = 8
	}
	return int64(c.Width) * int64(c.Height) * pixel
}

// CheckPicture says whether a picture can be decoded in the memory there is for it.
func CheckPicture(r io.Reader) error {
	_, err := bounded(r)
	return err
}

func bounded(r io.Reader) (image.Config, error) {
	c, format, err := image.DecodeConfig(r)
	if err != nil {
		return c, msg.New("file.unreadable", "name", "")
	}
	if c.Width < 1 || c.Height < 1 || c.Width > 1<<20 || c.Height > 1<<20 || decoded(c, format) > maxDecoded {
		return c, msg.New("file.pixels")
	}
	return c, nil
}

func (d *Dir) thumbnail(from, to string) error {
	d.drawing.Lock()
	defer d.drawing.Unlock()
	r, err := os.Open(from)
	if err != nil {
		return err
	}
	defer r.Close()
	c, err := bounded(r)
	if err != nil {
		return err
	}
	if _, err := r.Seek(0, io.SeekStart); err != nil {
		return err
	}
	img, _, err := image.Decode(r)
	if err != nil {
		return err
	}
	w, h := c.Width, c.Height
	if longest := max(w, h); longest > thumbSize {
		w, h = max(w*thumbSize/longest, 1), max(h*thumbSize/longest, 1)
	}
	small := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(small, small.Bounds(), image.White, image.Point{}, draw.Src)
	draw.ApproxBiLinear.Scale(small, small.Bounds(), img, img.Bounds(), draw.Over, nil)
	out, err := os.Create(to)
	if err != nil {
		return err
	}
	return errors.Join(jpeg.Encode(out, small, &jpeg.Options{Quality: 80}), out.Close())
}

// stale is how long a piece waits for the next before it is thrown away. The device still has the file and begins again.
const stale = 30 * 24 * time.Hour

// Sweep throws away pieces that nobody has added to for a month.
func (d *Dir) Sweep(now time.Time) error {
	all, err := os.ReadDir(d.partial())
	if err != nil {
		return err
	}
	for _, e := range all {
		info, err := e.Info()
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err == nil && now.Sub(info.ModTime()) > stale {
			err = os.Remove(filepath.Join(d.partial(), e.Name()))
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func syncDir(path string) error {
	d, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(d.Sync(), d.Close())
}
