import { readFileSync } from 'node:fs'
import { resolve } from 'node:path'

import type { Plugin } from 'vite'

const NAME = 'virtual:licences'

interface Locked {
  version?: string
  dev?: boolean
  license?: string
}

/** What of others' work ships with the screens: the packages of the lock file that are not only for building. */
export function licences(): Plugin {
  return {
    name: 'licences',
    resolveId: (id) => (id === NAME ? `\0${NAME}` : undefined),
    load(id) {
      if (id !== `\0${NAME}`) return
      const lock = JSON.parse(readFileSync('package-lock.json', 'utf8')) as { packages: Record<string, Locked> }
      const shipped = Object.entries(lock.packages).filter(([path, entry]) => path && !entry.dev)
      const found = shipped.map(([path, entry]) => {
        const name = path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length)
        const said = JSON.parse(readFileSync(resolve(path, 'package.json'), 'utf8')) as { license?: string }
        return { name, version: entry.version ?? '', licence: entry.license ?? said.license ?? 'not named' }
      })
      found.sort((a, b) => a.name.localeCompare(b.name))
      return `export const shipped = ${JSON.stringify(found)}`
    },
  }
}
