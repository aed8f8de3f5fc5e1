// Package api holds the contract and the Go types and server interface that are generated from it.
package api

import _ "embed"

//go:generate go tool oapi-codegen -config oapi-codegen.yaml openapi.yaml

// Contract is the contract itself (OpenAPI 3.0.3, YAML); the server validates requests against it.
//
//go:embed openapi.yaml
var Contract []byte
