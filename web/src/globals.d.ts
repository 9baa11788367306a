/** The version of the program, from package.json. */
declare const __VERSION__: string;
