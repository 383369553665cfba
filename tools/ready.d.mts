/** What ready.mjs gives: it runs before anything is installed or built, and is no TypeScript for that. */
import type { SpawnOptions } from 'node:child_process'

/** Folder of the project, with a slash at its end. */
export declare const root: string
/** Runs a command to its end. @throws Error with the command when it fails */
export declare function run(command: string, args: readonly string[], options?: SpawnOptions): Promise<void>
/** This Node, and the path of a package's own command. */
export declare function bin(path: string): [node: string, path: string]
/** Installs and builds what is missing or stale. @param options.quiet - say nothing and leave interface and demo */
export declare function ensureReady(options?: { readonly quiet?: boolean }): Promise<void>
