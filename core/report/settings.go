package report

import (
	"encoding/hex"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Settings are how a company's reports look.
type Settings struct {
	Lines  []string `json:"lines,omitempty"` // under the name: address, registration
	Intro  string   `json:"intro,omitempty"` // above the work
	Close  string   `json:"close,omitempty"` // below the signatures
	Layout string   `json:"layout,omitempty"`
	// CheckAt is the address that a report's code is added to, to check it.
	CheckAt string `json:"checkAt,omitempty"`
	// Logo is a picture, by the SHA-256 of what is in it.
	Logo *Logo `json:"logo,omitempty"`
}

// Logo is a picture of the company's.
type Logo struct {
	Hash string `json:"hash"`
	Type string `json:"type"` // image/png or image/jpeg
	Size int64  `json:"size"` // bytes
}

// maxLogo is the largest logo, in bytes: every report carries it.
const maxLogo = 300 << 10

// Check says which logo or text can't be on a report.
func (s Settings) Check() error {
	if l := s.Logo; l != nil {
		if raw, err := hex.DecodeString(l.Hash); err != nil || len(raw) != 32 || (l.Type != "image/png" && l.Type != "image/jpeg") {
			return msg.New("settings.logo")
		}
		if l.Size < 1 || l.Size > maxLogo {
			return msg.New("settings.logo_size", "max", "300")
		}
	}
	if len(s.Lines) > 10 {
		return msg.New("text.long", "field", "lines", "max", "10")
	}
	for _, text := range append([]string{s.Intro, s.Close}, s.Lines...) {
		if err := records.CheckText("paper", text, false, 2000); err != nil {
			return err
		}
	}
	return nil
}
