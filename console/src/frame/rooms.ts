import type { ComponentType } from "react";
import type { RouteObject } from "react-router";
import type { Permission, Session } from "../api/session";
import { may } from "../api/session";
import { registerStates, type State } from "../parts/badge";

/**
 * A page that has a place in the ribbon. Pages of one group share a place: it leads to the first of them
 * that somebody may see, and the others stand beneath.
 */
export type Place = { to: string; name: string; order: number; needs?: Permission; group?: string };

/** What a room brings to the console; it is found by its file, room.ts, and listed nowhere else. */
export type Room = {
  routes: RouteObject[];
  /** Pages for whoever is not signed in: no frame stands around them. */
  open?: RouteObject[];
  places?: Place[];
  /** The address of a thing that the finder found, by its kind. */
  finds?: Record<string, (key: string) => string>;
  /** The states of its things: each with its tone and its glyph. */
  states?: Record<string, State>;
};

/** A page that is loaded when somebody goes there. */
export function page<Module extends Record<Name, ComponentType>, Name extends string>(
  load: () => Promise<Module>,
  name: Name,
): RouteObject["lazy"] {
  return async () => ({ Component: (await load())[name] });
}

const files = import.meta.glob<{ room: Room }>("../*/room.ts", { eager: true });

export const rooms: Room[] = Object.values(files).map((file) => file.room);

rooms.forEach((room) => registerStates(room.states ?? {}));

const all = rooms.flatMap((room) => room.places ?? []).sort((a, b) => a.order - b.order);

/** The pages of a group that somebody may see. */
export function pagesOf(group: string, session: Session | undefined): Place[] {
  return all.filter((place) => place.group === group && (!place.needs || may(session, place.needs)));
}

/** The places in the ribbon, each with the beginnings of the addresses that belong to it. */
export function places(session: Session): (Place & { covers: string[] })[] {
  const shown = all.filter((place) => !place.needs || may(session, place.needs));
  const first = shown.filter((place) => !place.group || pagesOf(place.group, session)[0] === place);
  return first.map((place) => ({
    ...place,
    covers: place.group ? pagesOf(place.group, session).map((each) => each.to) : [place.to],
  }));
}
