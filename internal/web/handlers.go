package web

// handler answers the operations of the contract: each passes what was asked on to the step that does it.
type handler struct{ *Server }
