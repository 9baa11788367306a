import { expect, it } from "vitest";
import { withNews } from "../../device/directory";
import type { Directory } from "../../types";
import { DirectoryIndex } from "./directoryIndex";

const first: Directory = {
  history: "h",
  seq: 5,
  at: "2026-03-10T08:00:00Z",
  whole: true,
  customers: { id: ["C1", "C2"], name: ["Tessary Marina", "Pennelby Care"], phone: ["+353 1 555 1026", ""] },
  sites: {
    id: ["S1", "S2", "S3"],
    customer: [0, 0, 1],
    name: ["North pier", "South pier", "Pennelby Care"],
    address: ["1 Quay", "2 Quay", "9 Hill"],
    phone: ["", "", "01 555 2000"],
  },
  assets: { id: ["A1", "A2"], site: [0, 2], name: ["Bilge pump", "Boiler"], serial: ["BX-7", ""] },
};
const none = { customers: { id: [], name: [], phone: [] }, sites: { id: [], customer: [], name: [], address: [], phone: [] } };

const ids = (index: DirectoryIndex, text: string) => index.find(text).map((p) => `${p.type} ${p.id}`);

it("finds by part of any word in any order, with slips, and by telephone numbers in any spelling", () => {
  const index = new DirectoryIndex(withNews(undefined, first));
  expect(ids(index, "pier marina")).toEqual(["site S1", "site S2", "asset A1"]);
  expect(ids(index, "bilge")).toEqual(["asset A1"]);
  expect(ids(index, "bx-7")).toEqual(["asset A1"]);
  expect(ids(index, "tesary")).toContain("customer C1");
  for (const number of ["015551026", "+35315551026", "01 555 1026"]) expect(ids(index, number), number).toEqual(["customer C1"]);
  expect(ids(index, " ")).toEqual([]);
  expect(index.find("pennelby")[0]).toMatchObject({ id: "C2", site: "S3" });
});

it("takes what changed in place of what was, adds what is new, and drops what is no more", () => {
  const kept = withNews(undefined, first);
  const news: Directory = {
    ...first,
    seq: 9,
    whole: false,
    customers: { id: ["C3", "C2"], name: ["Weir Foods", "Pennelby Home"], phone: ["", ""] },
    sites: { id: ["S4", "S3"], customer: [0, 1], name: ["Weir", "Pennelby"], address: ["", "9 Hill"], phone: ["", ""] },
    assets: { id: ["A3", "A2", "A1"], site: [0, 1, 1], name: ["Chiller", "", "Bilge pump"], serial: ["", "", "BX-8"] },
  };
  const all = withNews(kept, news);
  const index = new DirectoryIndex(all);
  expect(all.seq).toBe(9);
  expect(index.customer("C3")?.sites).toEqual([{ id: "S4", name: "Weir", address: "", assets: [{ id: "A3", name: "Chiller" }] }]);
  expect(index.customer("C2")).toMatchObject({ name: "Pennelby Home", sites: [{ id: "S3", assets: [{ id: "A1" }] }] });
  expect(ids(index, "boiler")).toEqual([]);
  expect(kept.customers.name, "what was kept is left alone").toEqual(first.customers.name);
  expect(withNews(all, { ...first, ...none, whole: true }).customers.id, "told anew, nothing of before stays").toEqual([]);
});
