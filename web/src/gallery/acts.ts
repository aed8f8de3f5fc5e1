import { ask, client } from "~/api/client";

const at = (code: string) => ({ params: { path: { code } } });

/** visit reads a gallery as a guest sees it. */
export const visit = (code: string) => ask(client.GET("/api/public/galleries/{code}", at(code)));

/** unlock gives the password of a gallery; it throws what is against it. */
export const unlock = (code: string, password: string) =>
  ask(client.POST("/api/public/galleries/{code}/unlock", { ...at(code), body: { password } }));

/** listen reads what this guest, and others where that is shown, chose and wrote. */
export const listen = (code: string) => ask(client.GET("/api/public/galleries/{code}/talk", at(code)));

/** introduce gives a name; it throws what is against it. */
export const introduce = (code: string, name: string) =>
  ask(client.POST("/api/public/galleries/{code}/me", { ...at(code), body: { name } }));

/** mark puts a picture into a list, or takes it out; it throws what is against it. */
export const mark = (code: string, list: number, picture: string, marked: boolean) =>
  ask(client.POST("/api/public/galleries/{code}/marks", { ...at(code), body: { list, picture, marked } }));

/** remark says something about a picture; it throws what is against it. */
export const remark = (code: string, said: { picture: string; words: string; x?: number; y?: number; answers?: number }) =>
  ask(client.POST("/api/public/galleries/{code}/remarks", { ...at(code), body: said }));

/** unsay takes a remark back; it throws what is against it. */
export const unsay = (code: string, id: number) =>
  ask(client.DELETE("/api/public/galleries/{code}/remarks/{id}", { params: { path: { code, id } } }));

/** announce says which files will be sent; it throws what is against it. */
export const announce = (code: string, files: File[], agreed: boolean) =>
  ask(
    client.POST("/api/public/galleries/{code}/contributions", {
      ...at(code),
      body: { agreed, files: files.map((f) => ({ name: f.name, bytes: f.size })) },
    }),
  );

/** sendFile sends the bytes of a file that was announced; it throws what is against it. */
export async function sendFile(code: string, file: string, bytes: File) {
  const answer = await fetch(`/g/${code}/add/${file}`, { method: "PUT", body: bytes });
  if (answer.ok) return;
  const problem = (await answer.json().catch(() => ({}))) as { detail?: string };
  throw new Error(problem.detail ?? "Something went wrong.");
}
