/** Finds our scripts by the names that pages give them: frame/board/svg.js is in the frame's static folder. */
import { register } from "node:module";

const ours = `
  const WEB = new URL("../../yellow_sill/web/", ${JSON.stringify(import.meta.url)});
  export async function resolve(name, context, next) {
    const [, room, path] = name.match(/^(\\w+)\\/(.+\\.js)$/) ?? [];
    if (!room) return next(name, context);
    return next(new URL(room + "/static/" + room + "/" + path, WEB).href, context);
  }
  export async function load(url, context, next) {
    return url.startsWith(WEB.href) ? next(url, { ...context, format: "module" }) : next(url, context);
  }
`;
register(`data:text/javascript,${encodeURIComponent(ours)}`);
