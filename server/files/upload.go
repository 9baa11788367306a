package files

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"os"
	"time"

	"github.com/tus/tusd/v2/pkg/filestore"
	"github.com/tus/tusd/v2/pkg/handler"
	"github.com/tus/tusd/v2/pkg/memorylocker"
	"golang.org/x/exp/slog"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// UploadPath is where files are sent to, over the tus protocol 1.0 with its extension for creation. The metadata of an upload
// must name the file's "hash".
const UploadPath = "/api/upload/"

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
		StoreComposer: composer, MaxSize: work.MaxFile, BasePath: UploadPath, DisableDownload: true, DisableTermination: true,
		Cors:   &handler.CorsConfig{Disable: true},
		Logger: slog.New(slog.NewTextHandler(discard{}, nil)),
		PreUploadCreateCallback: func(e handler.HookEvent) (handler.HTTPResponse, handler.FileInfoChanges, error) {
			return handler.HTTPResponse{}, handler.FileInfoChanges{}, problem(begin(e.Upload))
		},
		PreFinishResponseCallback: func(e handler.HookEvent) (handler.HTTPResponse, error) {
			f, err := d.Take(e.Upload.Storage["Path"], e.Upload.MetaData["hash"])
			_ = os.Remove(e.Upload.Storage["InfoPath"])
			if err != nil {
				return handler.HTTPResponse{}, problem(err)
			}
			f.Person, _ = e.Context.Value(personKey{}).(string)
			f.Received = now()
			if err := s.Write(e.Context, func(tx *store.Tx) error { return tx.PutFile(f) }); err != nil {
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

// begin says why an upload is not even begun.
func begin(u handler.FileInfo) error {
	if u.SizeIsDeferred || u.Size < 1 || u.Size > work.MaxFile {
		return msg.New("file.size", "max", "64")
	}
	if u.IsPartial || u.IsFinal {
		return msg.New("file.whole")
	}
	return work.CheckHash(u.MetaData["hash"])
}

// problem is an error as tusd answers with it: after RFC 9457, as everywhere.
func problem(err error) error {
	if err == nil {
		return nil
	}
	status, code := http.StatusUnprocessableEntity, msg.New("server.failed")
	if c, ours := errors.AsType[*msg.Code](err); ours {
		code = c
	} else {
		status = http.StatusInternalServerError
		if errors.Is(err, store.ErrFull) {
			status, code = http.StatusInsufficientStorage, msg.New("server.full")
		}
	}
	raw, _ := json.Marshal(map[string]any{"type": "about:blank", "title": http.StatusText(status), "status": status, "code": code.Code, "args": code.Args})
	return handler.Error{ErrorCode: code.Code, Message: code.Code, HTTPResponse: handler.HTTPResponse{
		StatusCode: status, Body: string(raw), Header: handler.HTTPHeader{"Content-Type": "application/problem+json"}}}
}

type discard struct{}

func (discard) Write(p []byte) (int, error) { return len(p), nil }
