import { readFileSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'

import MarkdownIt from 'markdown-it'
import type { Plugin } from 'vite'

const FILE = resolve(dirname(fileURLToPath(import.meta.url)), '../docs/guide.md')
const NAME = 'virtual:guide'

const idOf = (heading: string): string => heading.toLowerCase().replace(/[^a-z0-9]+/g, '-')

/** docs/guide.md as HTML, with its pictures, made when the screens are built: readers of the file and of the program see the same. */
export const guide = (): Plugin => ({
  name: 'guide',
  resolveId: (id) => (id === NAME ? `\0${NAME}` : undefined),
  load(id) {
    if (id !== `\0${NAME}`) return
    this.addWatchFile(FILE)
    const pictures: string[] = []
    const html = new MarkdownIt()
      .render(readFileSync(FILE, 'utf8'))
      .replace(/<h2>(.*?)<\/h2>/g, (_, heading: string) => `<h2 id="${idOf(heading)}">${heading}</h2>`)
      // the other documents lie beside the file, not in the program
      .replace(/<a href="[^"]*\.md">(.*?)<\/a>/g, '<code>docs/$1</code>')
      .replace(/src="(screenshots\/[^"]+)"/g, (_, path: string) => `src="@@${pictures.push(path) - 1}@@"`)
    const imports = pictures.map((path, place) => `import picture${place} from ${JSON.stringify(resolve(dirname(FILE), path))}`)
    const filled = pictures.map((_, place) => `.replace('@@${place}@@', picture${place})`)
    const headings = [...html.matchAll(/<h2 id="([^"]+)">(.*?)<\/h2>/g)].map(([, anchor, title]) => ({ anchor, title }))
    return [
      ...imports,
      `export const headings = ${JSON.stringify(headings)}`,
      `export default ${JSON.stringify(html)}${filled.join('')}`,
    ].join('\n')
  },
})
