package query

// By whom an item was brought in: a person of the brand. What guests added came in the name of whoever asked for it.
func init() {
	register(Field{Name: "by", Takes: Takes{IDs: true, Missing: true}, Dear: 1,
		Say: byIDs("brought in by", func(n *Names) map[int64]string { return n.People }, "somebody who has left", "brought in by nobody"),
		SQL: among("a.added_by"), Set: oneOf("by"), Column: &Column{SQL: "coalesce(added_by, 0)", IDs: true}})
}
