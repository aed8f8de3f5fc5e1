package web

import (
	"maps"
	"slices"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/api"
	"brightsatchel/internal/core/query"
)

// TestTheContractKnowsEveryField names the field of filters that the contract has and the rules have not, or the other way round.
func TestTheContractKnowsEveryField(t *testing.T) {
	document, err := openapi3.NewLoader().LoadFromData(api.Contract)
	require.NoError(t, err)
	var told []string
	for _, field := range document.Components.Schemas["RuleField"].Value.Enum {
		told = append(told, field.(string))
	}
	slices.Sort(told)
	assert.Equal(t, slices.Sorted(maps.Keys(query.Fields)), told)
}
