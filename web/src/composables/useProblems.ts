import { ref } from 'vue'

import { type Problem, problemsOf } from '../api/client'

/** Problems of the last attempt, shown beside the fields they name. `at` takes the field's path. */
export function useProblems() {
  const problems = ref<Problem[]>([])
  const clear = () => (problems.value = [])
  const take = (trouble: unknown) => (problems.value = problemsOf(trouble))
  return {
    problems,
    clear,
    take,
    /** Does something, and takes what is refused of it. */
    guarded: async (act: () => Promise<unknown>): Promise<void> => {
      clear()
      try {
        await act()
      } catch (trouble) {
        take(trouble)
      }
    },
    at: (where: string) => {
      const found = problems.value.find((problem) => problem.where === where)
      return found && `${found.what} ${found.todo}`
    },
  }
}
