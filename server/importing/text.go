package importing

import (
	"bytes"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
)

// utf8Of gives a file's text as UTF-8, and whether it is text at all. Spreadsheets write UTF-8 or UTF-16 with a mark in front, or the
// letters of Windows-1252, of which ISO 8859-1 is a part; what is none of them would be stored broken.
func utf8Of(raw []byte) ([]byte, bool) {
	switch {
	case bytes.HasPrefix(raw, []byte("\xef\xbb\xbf")):
		raw = raw[3:]
	case bytes.HasPrefix(raw, []byte("\xff\xfe")), bytes.HasPrefix(raw, []byte("\xfe\xff")):
		out, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewDecoder().Bytes(raw)
		if err != nil {
			return nil, false
		}
		raw = out
	case !utf8.Valid(raw):
		out, err := charmap.Windows1252.NewDecoder().Bytes(raw)
		if err != nil {
			return nil, false
		}
		raw = out
	}
	return raw, utf8.Valid(raw) && !bytes.ContainsRune(raw, utf8.RuneError) && !bytes.ContainsRune(raw, 0)
}
