module grund

go 1.26.8

require github.com/stretchr/testify v1.12.1

require (
	github.com/alecthomas/kong v1.17.0 // indirect
	github.com/go-json-experiment/json v1.27.2 // indirect
	go.yaml.in/yaml/v3 v3.0.5 // indirect
)
