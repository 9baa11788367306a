package stock

import (
	"strings"
	"unicode"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Code is what a scanned label says.
type Code struct {
	// Key is what catalogues find the part by: two writings of one trade number have the same.
	Key    string `json:"key"`
	Part   string `json:"part,omitempty"`   // of a label of our own: the part's id
	Serial string `json:"serial,omitempty"` // when the label says it
}

// labelPrefix begins what the label of a part says, as a code to scan.
const labelPrefix = "ITER-P/"

// PartLabel is what the label of a part says.
func PartLabel(part string) string { return labelPrefix + part }

// maxCode is the longest text of a label that is read, in bytes.
const maxCode = 200

// separator ends a field of variable length in a GS1 label (FNC1).
const separator = "\x1d"

// fixed are the lengths of GS1 fields that need no end, by application identifier (GS1 General Specifications, 3.2).
var fixed = map[string]int{"00": 18, "01": 14, "02": 14, "11": 6, "12": 6, "13": 6, "15": 6, "16": 6, "17": 6, "20": 2}

// ReadCode reads what a scanner says: a label of our own; a GTIN, as EAN-8, UPC-A, EAN-13 or ITF-14 write it; a GS1 label with a
// GTIN and maybe a serial number; or a maker's own number. A scanner's symbology identifier (ISO/IEC 15424) is left away.
// The error is a *msg.Code for what no label says.
func ReadCode(text string) (Code, error) {
	t := strings.TrimSpace(text)
	marked := false
	if len(t) > 3 && t[0] == ']' && unicode.IsLetter(rune(t[1])) && unicode.IsDigit(rune(t[2])) {
		marked = strings.Contains("]C1 ]d2 ]Q3 ]e0", t[:3])
		t = t[3:]
	}
	if strings.HasPrefix(t, separator) {
		marked, t = true, t[1:]
	}
	if t == "" || len(t) > maxCode || strings.ContainsFunc(strings.ReplaceAll(t, separator, ""), unicode.IsControl) {
		return Code{}, msg.New("code.unreadable")
	}
	if n := len(labelPrefix); len(t) >= n && strings.EqualFold(t[:n], labelPrefix) {
		part := t[n:]
		if records.CheckID(part) != nil {
			return Code{}, msg.New("code.unreadable")
		}
		c, err := ReadCode(part) // its id, as a label that says no more than that
		c.Part = part
		return c, err
	}
	if marked || (len(t) > 16 && strings.HasPrefix(t, "01") && gtin(t[2:16]) != "") {
		if c, ok := fields(t); ok {
			return c, nil
		}
	}
	if t = strings.TrimSpace(strings.ReplaceAll(t, separator, "")); t == "" {
		return Code{}, msg.New("code.unreadable")
	}
	if g := gtin(t); g != "" {
		return Code{Key: g}, nil
	}
	return Code{Key: strings.ToUpper(t)}, nil
}

// gtin is a trade number without the zeros before it, when the text is one: 8, 12, 13 or 14 digits of which the last checks.
func gtin(t string) string {
	if n := len(t); n != 8 && n != 12 && n != 13 && n != 14 {
		return ""
	}
	sum := 0
	for i := range len(t) {
		d := t[len(t)-1-i]
		if d < '0' || d > '9' {
			return ""
		}
		weight := 1
		if i%2 == 1 {
			weight = 3
		}
		sum += int(d-'0') * weight
	}
	if sum%10 != 0 {
		return ""
	}
	return strings.TrimLeft(t, "0")
}

// fields reads the fields of a GS1 label: the trade number (01) and the serial number (21).
func fields(t string) (c Code, ok bool) {
	for len(t) >= 2 {
		ai := t[:2]
		n, known := fixed[ai]
		value := t[2:]
		if known {
			if len(value) < n {
				return c, false
			}
			value, t = value[:n], strings.TrimPrefix(value[n:], separator)
		} else {
			value, t, _ = strings.Cut(value, separator)
		}
		switch ai {
		case "01":
			c.Key = gtin(value)
		case "21":
			c.Serial = value
		}
	}
	return c, c.Key != ""
}
