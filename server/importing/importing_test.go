package importing_test

import (
	"context"
	"os"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
	"iter.example/iter/server/company"
	"iter.example/iter/server/importing"
	"iter.example/iter/server/store"
)

var (
	ctx = context.Background()
	now = time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)
)

func founded(t testing.TB) *store.Store {
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	loc, err := time.LoadLocation("Europe/Dublin")
	require.NoError(t, err)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		return company.Found(&company.Writer{Tx: tx, Now: now}, "Test", loc)
	}))
	return s
}

func seq(t *testing.T, s *store.Store) (n int64) {
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) (err error) { n, err = tx.Seq(); return err }))
	return n
}

func load[T any](t *testing.T, s *store.Store, typ, id string) (v T) {
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		ok, err := tx.Load(typ, id, &v)
		require.True(t, ok, "%s/%s", typ, id)
		return err
	}))
	return v
}

// example is the set that ships, as files that a test can change.
func example(t testing.TB) fstest.MapFS {
	out := fstest.MapFS{}
	files, err := os.ReadDir("../../docs/import-example")
	require.NoError(t, err)
	for _, f := range files {
		b, err := os.ReadFile("../../docs/import-example/" + f.Name())
		require.NoError(t, err)
		out[f.Name()] = &fstest.MapFile{Data: b}
	}
	return out
}

func TestTheExampleImportsOnce(t *testing.T) {
	s := founded(t)
	out, err := importing.Import(ctx, s, example(t), now, nil)
	require.NoError(t, err)
	assert.Equal(t, importing.Result{Created: 2}, out["sites.csv"])
	assert.Equal(t, "van-ann", load[records.Person](t, s, "person", "ann").Van)
	assert.Equal(t, "25.5", load[stock.Stock](t, s, "stock", "van-ann").Lines["CB-16"].Balance.String())
	assert.Len(t, load[records.Asset](t, s, "asset", "A001").Points, 2)
	o := load[work.Order](t, s, "workorder", "wo-4101")
	assert.Equal(t, "2026-11-24T12:00:00Z", o.PromiseTo.Format(time.RFC3339))
	assert.Equal(t, []string{"service@1"}, o.Sheets)

	assert.Equal(t, []string{"A001", "A002"}, load[work.Agreement](t, s, "agreement", "AG1").Assets)
	p := load[upkeep.Plan](t, s, "upkeep", "MP1")
	assert.Equal(t, []string{"Check seals", "Test run"}, p.Tasks)
	assert.Equal(t, 14, p.After)

	before := seq(t, s)
	out, err = importing.Import(ctx, s, example(t), now.Add(time.Hour), nil)
	require.NoError(t, err)
	assert.Equal(t, before, seq(t, s), "the same files again change nothing")
	assert.Equal(t, importing.Result{Same: 2}, out["sites.csv"])
}

func TestAChangedLineAmendsItsRecord(t *testing.T) {
	s := founded(t)
	files := example(t)
	_, err := importing.Import(ctx, s, files, now, nil)
	require.NoError(t, err)
	before := seq(t, s)
	files["assets.csv"].Data = []byte(strings.Replace(string(files["assets.csv"].Data), "AL-20411", "AL-99999", 1))
	out, err := importing.Import(ctx, s, fstest.MapFS{"assets.csv": files["assets.csv"]}, now, nil)
	require.NoError(t, err)
	assert.Equal(t, importing.Result{Changed: 1, Same: 2}, out["assets.csv"])
	assert.Equal(t, before+1, seq(t, s))
	a := load[records.Asset](t, s, "asset", "A001")
	assert.Equal(t, "AL-99999", a.Serial)
	assert.Len(t, a.Points, 2, "what the file does not have stays")
}

// A site without a place is put where its address is, if that is known well; what was said of it otherwise stays.
func TestSitesAreFoundByTheirAddress(t *testing.T) {
	s := founded(t)
	customer := &fstest.MapFile{Data: []byte("number,name\nC1,One\n")}
	sites := func(lines string) fstest.MapFS {
		return fstest.MapFS{"customers.csv": customer, "sites.csv": {Data: []byte("number,customer,name,address,lat,lon\n" + lines)}}
	}
	asked := 0
	lookUp := func(address string) (records.Point, bool) {
		asked++
		return records.Point{Lat: 54.8, Lon: -9.2}, address == "2 Slip Lane"
	}
	out, err := importing.Import(ctx, s, sites("S1,C1,One,2 Slip Lane,,\nS2,C1,Two,Nowhere,,\nS3,C1,Three,2 Slip Lane,50,-5\n"), now, lookUp)
	require.NoError(t, err)
	assert.Equal(t, importing.Result{Created: 3, Found: 1}, out["sites.csv"])
	assert.Equal(t, 2, asked)
	lat := func(id string) float64 { return load[records.Site](t, s, "site", id).Lat }
	assert.Equal(t, []float64{54.8, 0, 50}, []float64{lat("S1"), lat("S2"), lat("S3")})
	out, err = importing.Import(ctx, s, sites("S1,C1,One,2 Slip Lane,,\nS3,C1,Three,Elsewhere,,\n"), now.Add(time.Hour), nil)
	require.NoError(t, err)
	assert.Equal(t, importing.Result{Changed: 1, Same: 1}, out["sites.csv"])
	assert.Equal(t, []float64{54.8, 50}, []float64{lat("S1"), lat("S3")})
}

func TestErrorsAreAllListedAndNothingChanges(t *testing.T) {
	s := founded(t)
	before := seq(t, s)
	files := example(t)
	files["people.csv"].Data = []byte("id,name,roles\nann,Ann,pilot\n../x,Bad,technician\n")
	files["sites.csv"].Data = []byte("number,customer,name,lat\nS001,C999,Here,95\nS002,C100,,1\nS003,C100,There\nS001,C100,Again,1\n")
	files["parts.csv"].Data = []byte("number,name,unit,price,colour\nP1,Part,each,\"1,500\",red\n")
	files["stock.csv"].Data = []byte("place,part\nvan-ann,SK-38\n")
	files["assets.csv"].Data = []byte("number,site,name\nA1,S003,\"unclosed\nA2,S1,x\n")
	files["agreements.csv"].Data = []byte("number,customer,name,from,to\nAG1,C100,Care,2026-02-01,2026-01-01\n")
	files["maintenance_plans.csv"].Data = []byte("number,name,assets,problem,minutes,rule,begin,from_last\n" +
		"M1,A,A9,x,10,FREQ=DAILY,2026-01-01,no\nM2,A,,x,ten,FREQ=HOURLY,soon,maybe\n" +
		"M3,A,,x,10,FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30,2026-01-01,\nM4,A,,x,10,FREQ=DAILY,2026-01-01,\n")
	_, err := importing.Import(ctx, s, files, now, nil)
	var p importing.Problems
	require.ErrorAs(t, err, &p)
	text := err.Error()
	for _, want := range []string{
		`people.csv:2 column roles: expected any of technician, terminal, dispatcher, reviewer, stores, administrator, found "pilot"`,
		`people.csv:3 column id: expected letters, digits and . _ - only, at most 80, found "../x"`,
		`sites.csv:2 column customer: expected a customer that is in the files or was imported before, found "C999"`,
		`sites.csv:2 column lat: expected degrees between -90 and 90, found "95"`,
		`sites.csv:3 column name: expected a name`,
		`sites.csv:4: expected 4 fields, found "3"`,
		`assets.csv:2: expected a line of CSV`,
		`parts.csv:1 column colour: expected one of the columns number, name, category, unit, price, codes, names, packs, ` +
			`cost, tax, serial, warranty, supplier, replaced_by, retired, found "colour"`,
		`parts.csv:2 column price: expected a number such as 12.50, found "1,500"`,
		`stock.csv:1 column quantity: expected this column`,
		`agreements.csv:2 column to: expected a date that is not before from, found "2026-01-01"`,
		`maintenance_plans.csv:2 column assets: expected an asset that is in the files or was imported before, found "A9"`,
		`maintenance_plans.csv:3 column minutes: expected a whole number from 0 to 20160, found "ten"`,
		`maintenance_plans.csv:3 column begin: expected a date such as 2026-06-30, found "soon"`,
		`maintenance_plans.csv:3 column from_last: expected yes or no, found "maybe"`,
		`maintenance_plans.csv:4 column rule: expected a rule that gives days, such as FREQ=MONTHLY;INTERVAL=3, found ` +
			`"FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30"`,
		`maintenance_plans.csv:5 column number: expected a plan without faults (upkeep.target`,
		`work_orders.csv:2 column asset: expected an asset that is in the files or was imported before, found "A001"`,
	} {
		assert.Contains(t, text, want)
	}
	assert.Equal(t, before, seq(t, s))
}

func TestTheSameRecordTwice(t *testing.T) {
	s := founded(t)
	_, err := importing.Import(ctx, s, fstest.MapFS{"customers.csv": {Data: []byte("number,name\nC1,One\nC1,Two\n")}}, now, nil)
	require.ErrorContains(t, err, "customers.csv:3: expected each record once (it is also in customers.csv:2)")
	_, err = importing.Import(ctx, s, fstest.MapFS{"notes.txt": {}}, now, nil)
	require.ErrorContains(t, err, "no file to import")
}

func FuzzImport(f *testing.F) {
	for name, file := range example(f) {
		f.Add(name, file.Data)
	}
	s := founded(f)
	f.Fuzz(func(t *testing.T, name string, data []byte) {
		if !strings.HasSuffix(name, ".csv") || strings.ContainsAny(name, "/\\") {
			return
		}
		before := seq(t, s)
		if _, err := importing.Import(ctx, s, fstest.MapFS{name: {Data: data}}, now, nil); err != nil {
			require.Equal(t, before, seq(t, s))
		}
	})
}

func TestPartsAndLevels(t *testing.T) {
	s := founded(t)
	file := func(name, text string) (importing.Result, error) {
		return importing.File(ctx, s, name, []byte(text), now)
	}
	out, err := file("parts.csv",
		"number,name,names,unit,packs,cost,tax,serial,warranty,supplier,codes\n"+
			"M1,Motor,engine;drive,each,pair=2;box=2.5,120.5,standard,YES,24,harbour,4006381333931;X9\nP1,Seal,,each,,,,,,,\n")
	require.NoError(t, err)
	assert.Equal(t, importing.Result{Created: 2}, out)
	m := load[stock.Part](t, s, "part", "M1")
	assert.Equal(t, []string{"engine", "drive"}, m.Names)
	assert.Equal(t, "2.5", m.Packs[1].Size.String())
	assert.Equal(t, []any{"120.5", "standard", true, 24, "harbour", 2},
		[]any{m.Cost.String(), m.Tax, m.Serial, m.Warranty, m.Supplier, len(m.Codes)})

	// Columns that a file does not have stay as they are.
	_, err = file("parts.csv", "number,name,unit,replaced_by,retired\nM1,Motor,each,P1,yes\n")
	require.NoError(t, err)
	m = load[stock.Part](t, s, "part", "M1")
	assert.Equal(t, []any{"P1", true, true, "harbour"}, []any{m.ReplacedBy, m.Retired, m.Serial, m.Supplier})

	for text, want := range map[string]string{
		"number,name,unit,packs\nX1,X,each,pair\n":        `column packs: expected packs such as box=10;coil=50, found "pair"`,
		"number,name,unit,packs\nX1,X,each,each=2\n":      "column number: expected a part without faults (part.pack",
		"number,name,unit,serial\nX1,X,each,maybe\n":      `column serial: expected yes or no, found "maybe"`,
		"number,name,unit,warranty\nX1,X,each,for ever\n": `column warranty: expected a number of months, found "for ever"`,
		"number,name,unit,cost\nX1,X,each,-4\n":           "part.price",
		"number,name,unit,codes\nX1,X,each,a\x01b\n":      "code.unreadable",
	} {
		_, err := file("parts.csv", text)
		require.Error(t, err, text)
		assert.Contains(t, err.Error(), want)
	}

	_, err = importing.Import(ctx, s, fstest.MapFS{"people.csv": {Data: []byte("id,name,roles,van\nann,Ann,technician,Van 1\n")}}, now, nil)
	require.NoError(t, err)
	_, err = file("levels.csv", "place,part,min,max\nvan-ann,M1,1,2\nvan-ann,P1,3,9\n")
	require.NoError(t, err)
	l := load[stock.Levels](t, s, "levels", "van-ann").Levels
	assert.Equal(t, []string{"1", "9"}, []string{l["M1"].Min.String(), l["P1"].Max.String()})
	before := seq(t, s)
	_, err = file("levels.csv", "place,part,min,max\nvan-ann,P1,3,9\n")
	require.NoError(t, err)
	assert.Equal(t, before, seq(t, s), "the same again changes nothing, and what the file does not have stays")
	_, err = file("levels.csv", "place,part,min,max\nvan-ann,P1,9,3\nmoon,P1,1,2\n")
	require.ErrorContains(t, err, "expected a quantity not below min")
	require.ErrorContains(t, err, "expected a place that is in the files or was imported before")
	_, err = file("secrets.csv", "x\n")
	require.ErrorContains(t, err, "no file to import")
}

// Spreadsheets of before write other letters than UTF-8: they are read as what they are, or the file is refused, whole.
func TestLettersOfOtherEncodings(t *testing.T) {
	for name, c := range map[string]struct {
		raw  string
		want string // name of the customer; "" when the file is refused
	}{
		"UTF-8":              {"number,name\nC1,Mölnlycke Ærø\n", "Mölnlycke Ærø"},
		"UTF-8 with a mark":  {"\xef\xbb\xbfnumber,name\nC1,Mölnlycke\n", "Mölnlycke"},
		"ISO 8859-1":         {"number,name\nC1,M\xf6lnlycke \xc6r\xf8\n", "Mölnlycke Ærø"},
		"Windows-1252":       {"number,name\nC1,\x80 \x93Quay\x94\n", "€ “Quay”"},
		"UTF-16":             {"\xff\xfen\x00u\x00m\x00b\x00e\x00r\x00,\x00n\x00a\x00m\x00e\x00\n\x00C\x001\x00,\x00\xf6\x00\n\x00", "ö"},
		"a picture":          {"\x89PNG\r\n\x1a\n\x00\x00\x00\x0dIHDR", ""},
		"no letter at all":   {"number,name\nC1,M\x81\x8d\n", ""},
		"UTF-16, no mark":    {"n\x00u\x00m\x00", ""},
		"zeros in the text":  {"number,name\nC1,M\x00n\n", ""},
		"broken replacement": {"number,name\nC1,M\xef\xbf\xbdn\n", ""},
	} {
		t.Run(name, func(t *testing.T) {
			s := founded(t)
			_, err := importing.File(ctx, s, "customers.csv", []byte(c.raw), now)
			if c.want == "" {
				assert.ErrorContains(t, err, "customers.csv:1: expected a text file")
				return
			}
			require.NoError(t, err)
			assert.Equal(t, c.want, load[records.Customer](t, s, "customer", "C1").Name)
		})
	}
}
