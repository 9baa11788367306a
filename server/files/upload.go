package files

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"time"

	"github.com/tus/tusd/v2/pkg/filestore"
	"github.com/tus/tusd/v2/pkg/handler"
	"github.com/tus/tusd/v2/pkg/memorylocker"
	"golang.org/x/exp/slog"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
)

// UploadPath is where files are sent to, over the tus protocol 1.0 with its extension for creation. The metadata of an upload
// must name the file's "hash".
const UploadPath = "/api/upload/"

// How much a person may send: files begun and not whole, and bytes in a day.
const (
	maxOpen  = 200
	maxBytes = 4 << 30
)

// idPattern is what the ids of uploads look like, which the server gives.
var idPattern = regexp.MustCompile(`^[0-9a-f]{32}$`)

// CheckUpload says whether a path behind UploadPath can name an upload of a person's: nothing, to begin one, or an id that was given to
// them.
func (d *Dir) CheckUpload(path, person string) error {
	id := strings.TrimPrefix(path, "/")
	if id == "" {
		return nil
	}
	if !idPattern.MatchString(id) {
		return msg.New("upload.unknown")
	}
	u, err := d.begun(id)
	if err != nil || u.MetaData[keptPerson] != person {
		return msg.New("upload.unknown")
	}
	return nil
}

// keptPerson is the name under which an upload keeps who began it.
const keptPerson = "person"

// begun reads what is known of an upload that is not whole.
func (d *Dir) begun(id string) (handler.FileInfo, error) {
	var u handler.FileInfo
	raw, err := os.ReadFile(filepath.Join(d.partial(), id+".info"))
	if err == nil {
		err = json.Unmarshal(raw, &u)
	}
	return u, err
}

// open counts the uploads that a person began and that are not whole.
func (d *Dir) open(person string) (int, error) {
	all, err := filepath.Glob(filepath.Join(d.partial(), "*.info"))
	n := 0
	for _, path := range all {
		// One that came whole meanwhile does not count.
		if u, err := d.begun(strings.TrimSuffix(filepath.Base(path), ".info")); err == nil && u.MetaData[keptPerson] == person {
			n++
		}
	}
	return n, err
}

type personKey struct{}

// By says in a request's context who sends it.
func By(ctx context.Context, person string) context.Context {
	return context.WithValue(ctx, personKey{}, person)
}

// Upload gives the handler of uploads. Each that is complete is taken in, and noted in the store; then arrived is called.
func (d *Dir) Upload(s *store.Store, now func() time.Time, arrived func(store.File)) (http.Handler, error) {
	composer := handler.NewStoreComposer()
	filestore.New(d.partial()).UseIn(composer)
	memorylocker.New().UseIn(composer)
	h, err := handler.NewHandler(handler.Config{
		StoreComposer: composer, MaxSize: records.MaxFile, BasePath: UploadPath, DisableDownload: true, DisableTermination: true,
		Cors:   &handler.CorsConfig{Disable: true},
		Logger: slog.New(slog.NewTextHandler(discard{}, nil)),
		PreUploadCreateCallback: func(e handler.HookEvent) (handler.HTTPResponse, handler.FileInfoChanges, error) {
			person, _ := e.Context.Value(personKey{}).(string)
			err := begin(e.Upload)
			if err == nil {
				err = d.allow(e.Context, s, person, e.Upload.Size, now())
			}
			return handler.HTTPResponse{}, handler.FileInfoChanges{MetaData: handler.MetaData{"hash": e.Upload.MetaData["hash"],
				keptPerson: person}}, problem(err)
		},
		PreFinishResponseCallback: func(e handler.HookEvent) (handler.HTTPResponse, error) {
			f, err := d.Take(e.Upload.Storage["Path"], e.Upload.MetaData["hash"])
			_ = os.Remove(e.Upload.Storage["InfoPath"])
			if err != nil {
				return handler.HTTPResponse{}, problem(err)
			}
			f.Person, _ = e.Context.Value(personKey{}).(string)
			f.Received = now()
			if err := s.Write(e.Context, func(tx *store.Tx) error {
				return errors.Join(tx.PutFile(f), tx.AddBytes(f.Person, now(), f.Size))
			}); err != nil {
				return handler.HTTPResponse{}, problem(err)
			}
			arrived(f)
			return handler.HTTPResponse{}, nil
		},
	})
	if err != nil {
		return nil, err
	}
	return http.StripPrefix(UploadPath, h), nil
}

// allow says why a person can't begin one more upload of a size now.
func (d *Dir) allow(ctx context.Context, s *store.Store, person string, size int64, now time.Time) error {
	n, err := d.open(person)
	if err != nil {
		return err
	}
	if n >= maxOpen {
		return msg.New("quota.uploads", "max", strconv.Itoa(maxOpen))
	}
	var today int64
	if err := s.Read(ctx, func(tx *store.Tx) (err error) { today, err = tx.BytesToday(person, now); return err }); err != nil {
		return err
	}
	if today+size > maxBytes {
		return msg.New("quota.bytes", "max", strconv.Itoa(maxBytes>>30))
	}
	return nil
}

// begin says why an upload is not even begun.
func begin(u handler.FileInfo) error {
	if u.SizeIsDeferred || u.Size < 1 || u.Size > records.MaxFile {
		return msg.New("file.size", "max", "64")
	}
	if u.IsPartial || u.IsFinal {
		return msg.New("file.whole")
	}
	return records.CheckHash(u.MetaData["hash"])
}

// problem is an error as tusd answers with it: after RFC 9457, as everywhere.
func problem(err error) error {
	if err == nil {
		return nil
	}
	status, code := http.StatusUnprocessableEntity, msg.New("server.failed")
	if c, ours := errors.AsType[*msg.Code](err); ours {
		if code = c; strings.HasPrefix(c.Code, "quota.") {
			status = http.StatusTooManyRequests
		}
	} else {
		status = http.StatusInternalServerError
		if errors.Is(err, store.ErrFull) {
			status, code = http.StatusInsufficientStorage, msg.New("server.full")
		}
	}
	raw, _ := json.Marshal(map[string]any{"type": "about:blank", "title": http.StatusText(status), "status": status, "code": code.Code,
		"args": code.Args})
	return handler.Error{ErrorCode: code.Code, Message: code.Code, HTTPResponse: handler.HTTPResponse{
		StatusCode: status, Body: string(raw), Header: handler.HTTPHeader{"Content-Type": "application/problem+json"}}}
}

type discard struct{}

func (discard) Write(p []byte) (int, error) { return len(p), nil }
