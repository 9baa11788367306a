import { Program } from "./program.js";

/** Makes a demo company before the tests, of which each file of tests takes a copy; gives what removes it after them. */
export default async function makeTemplate() {
  const template = new Program();
  await template.start();
  await template.stop();
  process.env.TEMPLATE = template.data;
  return () => template.remove();
}
