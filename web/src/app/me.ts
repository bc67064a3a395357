import { createContext, useContext } from "react";
import type { Me } from "../api/types";

const Context = createContext<Me>({ alone: true, guests: false });

export const MeProvider = Context.Provider;

/** useMe returns who is signed in, and whether anybody can be. */
export const useMe = (): Me => useContext(Context);
