import { QueryClient, type InvalidateOptions, type InvalidateQueryFilters, type QueryKey } from "@tanstack/react-query";

/** Asking asks again for what has changed, also where it is being asked for the first time just then: the answer that is on its way may be
 * from before the change, and would be taken for the newest. */
export class Asking extends QueryClient {
  override async invalidateQueries<Key extends QueryKey = QueryKey>(filters?: InvalidateQueryFilters<Key>, options?: InvalidateOptions) {
    const first = this.getQueryCache()
      .findAll({ ...filters, fetchStatus: "fetching" })
      .filter((query) => query.state.data === undefined);
    await super.invalidateQueries(filters, options); // which waits for those
    if (first.length > 0) await super.invalidateQueries({ predicate: (query) => first.includes(query) }, options);
  }
}
