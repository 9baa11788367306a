package importing

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"io"
	"maps"
	"slices"
	"strconv"
	"strings"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/server/store"
)

// Listed is a line of a list of parts, as the catalogue knows the part.
type Listed struct {
	Part     string          `json:"part"`
	Number   string          `json:"number"`
	Name     string          `json:"name"`
	Unit     string          `json:"unit"`
	Quantity decimal.Decimal `json:"quantity"`
}

// maxListed is the most lines of a list of parts that are read.
const maxListed = 2000

// PartsList reads a list of parts as spreadsheets write it: a part's number, or a code on its label, and how many; one when that is left
// out. Names above the columns may say which is which. What can't be read is said by its line, and the rest is given.
func PartsList(tx *store.Tx, raw []byte) (lines []Listed, problems []msg.Code, err error) {
	lines, problems = []Listed{}, []msg.Code{}
	text, ok := utf8Of(raw)
	if !ok {
		return nil, nil, msg.New("partslist.file")
	}
	known, err := partsByCode(tx)
	if err != nil {
		return nil, nil, err
	}
	r := csv.NewReader(bytes.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.LazyQuotes, r.TrimLeadingSpace = separator(text), -1, true, true
	part, quantity := 0, 1
	for n := 1; ; n++ {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			return lines, problems, nil
		}
		if err != nil || n > maxListed {
			return nil, nil, msg.New("partslist.file")
		}
		cell := func(i int) string {
			if i >= len(cells) {
				return ""
			}
			return strings.TrimSpace(cells[i])
		}
		if n == 1 {
			called := func(names ...string) int {
				return slices.IndexFunc(cells, func(s string) bool { return slices.Contains(names, strings.ToLower(strings.TrimSpace(s))) })
			}
			if i := called("part", "number"); i >= 0 {
				if part, quantity = i, called("quantity"); quantity < 0 {
					quantity = len(cells)
				}
				continue
			}
		}
		if cell(part) == "" {
			continue
		}
		line, found := known[strings.ToLower(cell(part))]
		if !found {
			problems = append(problems, *msg.New("partslist.unknown", "line", strconv.Itoa(n), "part", records.Clip(cell(part))))
			continue
		}
		line.Quantity = decimal.NewFromInt(1)
		if q := cell(quantity); q != "" {
			line.Quantity, err = decimal.NewFromString(strings.Replace(q, ",", ".", 1))
			if err != nil || !line.Quantity.IsPositive() || line.Quantity.GreaterThan(decimal.NewFromInt(1_000_000)) {
				problems = append(problems, *msg.New("partslist.quantity", "line", strconv.Itoa(n), "quantity", records.Clip(q)))
				continue
			}
		}
		if i := slices.IndexFunc(lines, func(l Listed) bool { return l.Part == line.Part }); i >= 0 {
			lines[i].Quantity = lines[i].Quantity.Add(line.Quantity)
			continue
		}
		lines = append(lines, line)
	}
}

// separator is what stands between the cells of a table: what its first line has most of.
func separator(text []byte) rune {
	first, _, _ := bytes.Cut(text, []byte("\n"))
	best, most := ',', 0
	for _, r := range ",;\t" {
		if n := bytes.Count(first, []byte(string(r))); n > most {
			best, most = r, n
		}
	}
	return best
}

// partsByCode are the parts of the catalogue by their ids, numbers and codes, in lower case. A number goes before another part's code.
func partsByCode(tx *store.Tx) (map[string]Listed, error) {
	docs, err := tx.Of("part")
	if err != nil {
		return nil, err
	}
	out, numbered := map[string]Listed{}, map[string]Listed{}
	for _, d := range docs {
		var p stock.Part
		if err := json.Unmarshal(d.Body, &p); err != nil {
			return nil, err
		}
		if p.Retired {
			continue
		}
		line := Listed{Part: d.ID, Number: p.Number, Name: p.Name, Unit: p.Unit}
		for _, code := range p.Codes {
			out[strings.ToLower(code)] = line
		}
		numbered[strings.ToLower(d.ID)], numbered[strings.ToLower(p.Number)] = line, line
	}
	maps.Copy(out, numbered)
	return out, nil
}
