package api

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"net/http"
	"time"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/code128"
	"github.com/boombuler/barcode/qr"
	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/store"
)

// TerminalPerson is somebody who may use a shared terminal. Badge is the SHA-256 of what their badge says, in hex: a terminal
// knows a badge when it sees one, with no signal too, and can't make one.
type TerminalPerson struct {
	Person string `json:"person"`
	Name   string `json:"name"`
	Number string `json:"number"`
	Badge  string `json:"badge"`
}

func (s *Server) terminalPeople(c *gin.Context) ([]TerminalPerson, error) {
	return read(s, c, func(tx *store.Tx) ([]TerminalPerson, error) {
		badges, err := tx.Badges()
		if err != nil {
			return nil, err
		}
		out := []TerminalPerson{}
		for _, b := range badges {
			if a, _, err := tx.AccountOf(b.Person); err != nil {
				return nil, err
			} else if !a.Disabled.IsZero() {
				continue
			}
			name, err := tx.NameOf(b.Person)
			if err != nil {
				return nil, err
			}
			sum := sha256.Sum256([]byte(b.Code))
			out = append(out, TerminalPerson{b.Person, name, b.Number, hex.EncodeToString(sum[:])})
		}
		return out, nil
	})
}

// Identify is a number and PIN, typed at a terminal.
type Identify struct {
	Number string `json:"number"`
	Pin    string `json:"pin"`
}

// Identified says whose they are, and gives the key under which the terminal proves that they were there.
type Identified struct {
	Person string `json:"person"`
	Key    string `json:"key"`
}

func (s *Server) identify(c *gin.Context, in Identify) (Identified, error) {
	ctx, key := c.Request.Context(), ""
	badge, err := accounts.CheckPin(ctx, s.Store, in.Number, in.Pin)
	if err == nil {
		err = s.Store.Read(ctx, func(tx *store.Tx) (err error) { key, err = accounts.PinKey(tx, who(c).PersonID, badge); return err })
	}
	switch {
	case errors.Is(err, accounts.ErrBusy):
		err = slow(time.Second, "signin.busy")
	case errors.Is(err, accounts.ErrLocked):
		err = refusal{status: http.StatusTooManyRequests, why: msg.New("terminal.locked")}
	case errors.Is(err, accounts.ErrWrong):
		err = refusal{status: http.StatusForbidden, why: msg.New("terminal.wrong")}
	}
	return Identified{badge.Person, key}, err
}

// BadgeLine is a badge as the office sees it. Code is what it says, to be printed.
type BadgeLine struct {
	Person string `json:"person"`
	Name   string `json:"name"`
	Number string `json:"number"`
	Code   string `json:"code"`
	Pin    bool   `json:"pin"` // whether one was set
	Locked bool   `json:"locked"`
}

func (s *Server) badges(c *gin.Context) ([]BadgeLine, error) {
	out := []BadgeLine{}
	err := s.Store.Write(c.Request.Context(), func(tx *store.Tx) error {
		badges, err := accounts.Issue(tx)
		if err != nil {
			return err
		}
		for _, b := range badges {
			name, err := tx.NameOf(b.Person)
			if err != nil {
				return err
			}
			out = append(out, BadgeLine{b.Person, name, b.Number, b.Code, b.Pin != "", b.Tries >= accounts.MaxTries})
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return out, nil
}

// NewPin is the body of setting somebody's PIN.
type NewPin struct {
	Pin string `json:"pin"`
}

func (s *Server) setPin(c *gin.Context, in NewPin) (Done, error) {
	err := s.Store.Write(c.Request.Context(), func(tx *store.Tx) error { return accounts.SetPin(tx, in.Pin, c.Param("person")) })
	if errors.Is(err, accounts.ErrPin) {
		err = msg.New("terminal.pin")
	}
	return Done{}, err
}

// longestLabel is the longest text that a label says, in bytes.
const longestLabel = 120

// label draws a text as a QR or Code 128 label.
func (s *Server) label(c *gin.Context) {
	text := c.Query("text")
	var code barcode.Barcode
	var err error
	if len(text) == 0 || len(text) > longestLabel {
		s.problem(c, http.StatusBadRequest, msg.New("http.body"))
		return
	}
	width, height := 240, 240
	if c.Query("kind") == "code128" {
		code, err = code128.Encode(text)
		if err == nil {
			width, height = code.Bounds().Dx()*2, 96
		}
	} else {
		code, err = qr.Encode(text, qr.M, qr.Auto)
	}
	if err == nil {
		code, err = barcode.Scale(code, width, height)
	}
	var b bytes.Buffer
	if err == nil {
		err = png.Encode(&b, framed(code))
	}
	if err != nil {
		s.problem(c, http.StatusBadRequest, msg.New("http.body"))
		return
	}
	c.Data(http.StatusOK, "image/png", b.Bytes())
}

// framed puts the white around a code without which it can't be read.
func framed(code image.Image) image.Image {
	const edge = 24
	b := code.Bounds()
	out := image.NewGray(image.Rect(0, 0, b.Dx()+2*edge, b.Dy()+2*edge))
	draw.Draw(out, out.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.Draw(out, b.Add(image.Pt(edge, edge)), code, b.Min, draw.Src)
	return out
}
