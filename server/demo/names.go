package demo

import (
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// All people, firms and places are made up.

var technicians = [][2]string{
	{"ansa", "Ansa Vane"}, {"bero", "Bero Orme"}, {"cathal", "Cathal Pell"}, {"dilys", "Dilys Rusk"}, {"emrick", "Emrick Tarn"},
	{"fenna", "Fenna Wick"},
	{"garo", "Garo Yell"}, {"hesper", "Hesper Lund"}, {"idris", "Idris Corrow"}, {"jory", "Jory Thessal"}, {"kerra", "Kerra Maddow"},
	{"lowen", "Lowen Brask"},
}

var office = [][3]string{
	{"mirin", "Mirin Dell", "dispatcher"}, {"noll", "Noll Sarrow", "reviewer"}, {"oriel", "Oriel Haskett", "stores"},
	{"petrok", "Petrok Aldane", "administrator"},
	{"workshop", "Workshop tablet", "terminal"},
}

// skills that technicians have, by turns.
var skills = [][]string{{"pumps", "electrical"}, {"pumps"}, {"pumps", "treatment"}, {"pumps", "electrical", "treatment"}, {"treatment"}}

// results are how the firm says that a task came out.
var results = []records.Choice{{ID: "good", Text: "Good"}, {ID: "worn", Text: "Worn, still fine"}, {ID: "low", Text: "Low"},
	{ID: "replaced", Text: "Replaced"}}

// templates are work that the firm's dispatchers take ready-made.
var templates = []work.Template{
	{Name: "Booster set, yearly service", Job: boosterService},
	{Name: "Dosing unit, calibration", Job: doseCalibration},
	{Name: "Survey for a new plant room", Job: work.Job{Problem: "Survey for a new plant room", Kind: "survey", Minutes: 90}},
}

var (
	boosterService = work.Job{Problem: "Yearly service of the booster set", Kind: "service", Minutes: 120,
		Tasks:  []string{"Check seals and bearings", "Check the precharge", "Test the standby pump", "Set the pressure"},
		Skills: []string{"pumps"}}
	doseCalibration = work.Job{Problem: "Calibrate the dosing unit", Kind: "service", Minutes: 60,
		Tasks: []string{"Flush and clean", "Calibrate the dose"}, Skills: []string{"treatment"}}
)

// places of the coast, with where they lie.
var places = []struct {
	name     string
	lat, lon float64
}{
	{"Orrisk", 54.812, -9.214}, {"Vellamouth", 54.776, -9.131}, {"Tessary", 54.861, -9.302}, {"Haldwick", 54.731, -9.055},
	{"Lamm", 54.705, -9.177}, {"Pennelby", 54.748, -8.982},
	{"Kessel", 54.822, -9.073}, {"Tarrel", 54.893, -9.187}, {"Innisgarve", 54.874, -9.421}, {"Skarrow", 54.921, -9.268},
	{"Dunmarrow", 54.667, -9.091}, {"Fethering", 54.694, -8.934},
	{"Quay Sound", 54.789, -9.252}, {"Marrable", 54.842, -8.967},
}

// firms are customers: a name, what they have at each place, and the kinds of machines there.
var firms = []struct {
	number, name, contact, role, at string
	kinds                           []string
	sites                           int
}{
	{"C100", "Vella Sound Water Board", "Ruan Keast", "Duty engineer", "Pump House", []string{"booster", "panel", "dosing", "vessel"}, 14},
	{"C101", "Vella Sound Water Board, Wells", "Ruan Keast", "Duty engineer", "Well", []string{"borehole", "uv"}, 12},
	{"C110", "Kessel and Sons Dairies", "Tamsin Kessel", "Plant manager", "Dairy", []string{"booster", "chiller", "filter", "dosing"}, 9},
	{"C120", "Tessary Fish Farms", "Odo Brannel", "Farm manager", "Fish Farm", []string{"uv", "chiller", "filter", "booster"}, 9},
	{"C130", "Pennelby Growers", "Wenna Pascal", "Head grower", "Nursery", []string{"borehole", "filter", "booster"}, 11},
	{"C140", "Haldwick Marina", "Perran Voss", "Harbour master", "Marina", []string{"booster", "dosing"}, 3},
	{"C150", "Larkfield Care Homes", "Sister Morwen Gale", "Matron", "Care Home", []string{"booster", "uv", "vessel"}, 6},
	{"C160", "Skarrow Crofters' Cooperative", "Hob Trenery", "Secretary", "Crofts", []string{"borehole", "vessel", "filter"}, 13},
	{"C170", "Innisgarve Distillers", "Aveline Stroud", "Maintenance", "Still House", []string{"booster", "filter", "panel"}, 4},
	{"C180", "Marrable Holiday Parks", "Gwill Tonkin", "Site manager", "Park", []string{"booster", "dosing", "uv"}, 8},
	{"C190", "Dunmarrow Laundry", "Jenna Oates", "Owner", "Laundry", []string{"booster", "filter"}, 4},
	{"C200", "Fethering Schools", "Aldo Rees", "Caretaker", "School", []string{"booster", "vessel"}, 8},
}

type machine struct {
	name   string
	maker  string
	points []point
	parts  []string
	faults []string
	skills []string
	tasks  []string
}

type point struct {
	id, name, unit                         string
	alarmLow, warnLow, warnHigh, alarmHigh string
	usual, spread                          float64
	places                                 int32
	// counter tells that it counts up from about usual, by about spread a day.
	counter bool
}

var machines = map[string]machine{
	"booster": {"Booster set", "Aldane", []point{
		{"suction", "Suction pressure", "bar", "0.2", "0.4", "2.5", "3", 1.1, 0.4, 2, false},
		{"discharge", "Discharge pressure", "bar", "2.5", "3", "6", "6.5", 4.6, 0.8, 2, false},
		{"current", "Motor current L1", "A", "", "", "15.5", "17", 13.8, 1.2, 1, false},
		{"current2", "Motor current L2", "A", "", "", "15.5", "17", 13.7, 0.9, 1, false},
		{"current3", "Motor current L3", "A", "", "", "15.5", "17", 13.6, 0.9, 1, false},
		{"vibration", "Vibration", "mm/s", "", "", "4.5", "7.1", 2.4, 1.2, 1, false},
		{"hours", "Run hours", "h", "", "", "", "", 4100, 7, 0, true},
		{"energy", "Energy meter", "kWh", "", "", "", "", 21000, 62, 0, true},
		{"volume", "Water meter", "m³", "", "", "", "", 44000, 131, 0, true}},
		[]string{"SK-38", "OR-72", "CP-20", "PT-10"}, []string{"No pressure on the upper line since Sunday night", "Pump 2 vibrates",
			"Short cycling, tank hammering", "Low pressure alarm in the mornings"}, []string{"pumps"},
		[]string{"Isolate and inspect", "Change the seals", "Test run under load"}},
	"borehole": {"Borehole pump", "Thessal", []point{
		{"flow", "Flow", "m³/h", "4", "6", "", "", 9.5, 2, 1, false},
		{"current", "Motor current L1", "A", "", "", "22", "25", 18.5, 2, 1, false},
		{"insulation", "Insulation resistance", "MΩ", "0.5", "2", "", "", 60, 30, 0, false},
		{"hours", "Run hours", "h", "", "", "", "", 8200, 9, 0, true}},
		[]string{"CB-16", "NR-50", "FU-25"}, []string{"No water", "Flow has halved since last month", "Trips on overload after an hour"},
		[]string{"pumps"}, []string{"Measure insulation and level", "Lift and inspect the pump", "Test pumping"}},
	"dosing": {"Dosing unit", "Corrow", []point{
		{"chlorine", "Free chlorine", "mg/l", "0.1", "0.2", "0.8", "1.5", 0.45, 0.2, 2, false},
		{"stock", "Hypochlorite left", "l", "5", "15", "", "", 60, 30, 0, false}},
		[]string{"DV-04", "TU-06", "HY-25"}, []string{"Chlorine low", "Dosing pump has lost its prime", "Crystals on the injection valve"},
		[]string{"treatment"}, []string{"Flush and clean", "Calibrate the dose"}},
	"uv": {"UV unit", "Lumen Bay", []point{
		{"dose", "UV dose", "mJ/cm²", "35", "40", "", "", 55, 10, 0, false},
		{"lamp", "Lamp hours", "h", "", "", "8000", "9000", 5200, 2600, 0, false}},
		[]string{"UV-40", "QS-40", "OR-72"}, []string{"UV alarm, lamp hours", "Low dose after the storm", "Ballast fault"},
		[]string{"treatment"}, []string{"Change lamp and sleeve", "Clean and reset the sensor"}},
	"filter": {"Sand filter", "Maddow", []point{
		{"drop", "Pressure drop", "bar", "", "", "0.6", "0.9", 0.35, 0.2, 2, false},
		{"turbidity", "Turbidity", "NTU", "", "", "0.8", "1", 0.4, 0.25, 2, false}},
		[]string{"FM-25", "BV-32"}, []string{"Filter will not backwash", "Cloudy water", "Media in the line"}, []string{"treatment"},
		[]string{"Backwash and inspect", "Top up the media"}},
	"vessel": {"Pressure vessel", "Brask", []point{
		{"precharge", "Precharge", "bar", "1.2", "1.5", "3.5", "4", 2.4, 0.6, 1, false}},
		[]string{"VB-80", "PG-06"}, []string{"Bladder suspected", "Relief valve weeps", "Annual vessel test"}, []string{"pumps"},
		[]string{"Drain and check precharge", "Test the relief valve"}},
	"chiller": {"Water chiller", "Orrin", []point{
		{"leaving", "Leaving water", "°C", "1", "2", "9", "12", 5.5, 2, 1, false},
		{"high", "High side pressure", "bar", "8", "10", "19", "22", 14, 3, 1, false},
		{"running", "Compressor current", "A", "", "", "28", "31", 23, 3, 1, false}},
		[]string{"GR-40", "BT-10"}, []string{"Trips on high pressure", "Milk will not come down to five degrees",
			"Frost on the suction line"}, []string{"electrical"}, []string{"Check for leaks", "Clean the condenser", "Top up and test"}},
	"panel": {"Control panel", "Yell", []point{
		{"voltage", "Voltage L1–L2", "V", "370", "385", "415", "430", 401, 6, 0, false},
		{"insulation", "Insulation resistance", "MΩ", "0.5", "2", "", "", 80, 40, 0, false}},
		[]string{"FU-25", "CT-18", "RL-24"}, []string{"Panel dead after lightning", "Contactor chatters", "Level relay sticks"},
		[]string{"electrical"}, []string{"Prove dead and inspect", "Replace what failed", "Test all functions"}},
}

var parts = []struct{ number, name, category, unit, price string }{
	{"SK-38", "Mechanical seal kit 38 mm", "Seals", "each", "84.50"}, {"SK-28", "Mechanical seal kit 28 mm", "Seals", "each", "71.20"},
	{"OR-72", "O-ring EPDM 72 × 4", "Seals", "each", "1.85"}, {"OR-50", "O-ring EPDM 50 × 3", "Seals", "each", "1.40"},
	{"CP-20", "Coupling insert 20", "Drive", "each", "12.60"}, {"PT-10", "Pressure transmitter 0–10 bar", "Instruments", "each", "146.00"},
	{"PG-06", "Pressure gauge 0–6 bar", "Instruments", "each", "18.90"}, {"CB-16", "Drop cable 4 × 1.5", "Electrical", "m", "3.20"},
	{"NR-50", "Non-return valve DN 50", "Valves", "each", "58.00"}, {"BV-32", "Ball valve DN 32", "Valves", "each", "22.40"},
	{"DV-04", "Injection valve 4 mm", "Dosing", "each", "33.00"}, {"TU-06", "Dosing tube 6 mm", "Dosing", "m", "2.10"},
	{"HY-25", "Sodium hypochlorite 12 %, 25 l", "Chemicals", "can", "27.00"}, {"UV-40", "UV lamp 40 W", "UV", "each", "118.00"},
	{"QS-40", "Quartz sleeve 40 W", "UV", "each", "64.00"}, {"FM-25", "Filter sand 0.4–0.8 mm, 25 kg", "Filters", "bag", "14.50"},
	{"VB-80", "Vessel bladder 80 l", "Vessels", "each", "96.00"}, {"FU-25", "Fuse gG 25 A", "Electrical", "each", "4.30"},
	{"CT-18", "Contactor 18 A, 24 V coil", "Electrical", "each", "47.00"}, {"RL-24", "Level relay 24 V", "Electrical", "each", "62.00"},
	{"GR-40", "Bearing grease, 400 g", "Consumables", "tube", "8.70"}, {"TF-12", "Thread seal tape 12 mm", "Consumables", "roll", "0.95"},
	{"BT-10", "Bolt set M10 stainless", "Consumables", "set", "5.60"}, {"HC-25", "Hose clamp 25 mm", "Consumables", "each", "1.10"},
	{"EP-02", "Floor coating, two coats", "Coatings", "m²", "19.90"},
}

var notes = []string{"Cleaned and tested, runs quietly.", "Seal face worn, changed. Ran half an hour under load, dry.",
	"Strainer was blocked with shell grit. Flushed.", "Set points checked with the duty engineer.",
	"Isolator is stiff, will need changing within the year.", "Gate code has changed, see access notes.",
	"Bearing a little warm, keep an eye on it."}

var signers = []string{"R. Keast", "T. Kessel", "O. Brannel", "W. Pascal", "P. Voss", "M. Gale", "H. Trenery", "A. Stroud"}
