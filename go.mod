module iter.example/iter

go 1.26.0

require (
	github.com/evanphx/json-patch/v5 v5.9.11
	github.com/gowebpki/jcs v1.0.2
	github.com/oklog/ulid/v2 v2.1.2
	github.com/shopspring/decimal v1.6.0
	github.com/stretchr/testify v1.12.1
	pgregory.net/rapid v1.3.0
)

require go.yaml.in/yaml/v3 v3.0.5 // indirect
