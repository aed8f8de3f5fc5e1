import { ask, client } from "~/api/client";

/** visit reads a gallery as a guest sees it. */
export const visit = (code: string) => ask(client.GET("/api/public/galleries/{code}", { params: { path: { code } } }));

/** unlock gives the password of a gallery; it throws what is against it. */
export const unlock = (code: string, password: string) =>
  ask(client.POST("/api/public/galleries/{code}/unlock", { params: { path: { code } }, body: { password } }));
