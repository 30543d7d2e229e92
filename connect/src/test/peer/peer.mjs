// A SCIM 2.0 server that others wrote, with resources in memory; prints the port it listens on.
import express from "express";
import SCIMMY from "scimmy";
import Routers from "scimmy-routers";

let number = 0;

function keep(prefix) {
  const kept = new Map();
  const missing = (id) => new SCIMMY.Types.Error(404, null, `Resource ${id} not found`);
  return {
    kept,
    ingress: async (resource, data) => {
      const id = resource.id ?? `${prefix}${++number}`;
      const copy = JSON.parse(JSON.stringify(data));
      if ([...kept.values()].some((each) => each.id !== id && copy.userName && each.userName === copy.userName)) {
        throw new SCIMMY.Types.Error(409, "uniqueness", "The userName is taken");
      }
      const made = { ...copy, id, meta: { created: new Date(), lastModified: new Date() } };
      kept.set(id, made);
      return made;
    },
    egress: async (resource) => {
      if (resource.id) {
        if (!kept.has(resource.id)) throw missing(resource.id);
        return kept.get(resource.id);
      }
      const all = [...kept.values()];
      return resource.filter ? resource.filter.match(all) : all;
    },
    degress: async (resource) => {
      if (!kept.delete(resource.id)) throw missing(resource.id);
    },
  };
}

const users = keep("user-");
const groups = keep("group-");
groups.kept.set("group-0", { id: "group-0", displayName: "Charts", members: [] });
const declare = (type, of) =>
  SCIMMY.Resources.declare(type).ingress(of.ingress).egress(of.egress).degress(of.degress);
declare(SCIMMY.Resources.User, users);
declare(SCIMMY.Resources.Group, groups);

const handler = (request) => {
  if (request.header("Authorization") !== "Bearer a token") throw new Error("unknown token");
  return "glenmoor";
};
const app = express();
app.use("/scim/v2", new Routers({ type: "bearer", handler }));
const server = app.listen(0, "127.0.0.1", () => console.log(server.address().port));
process.stdin.on("end", () => process.exit()).resume();
