import { ref } from 'vue'

import { type Problem, problemsOf } from '../api/client'

/** Problems of the last attempt, shown beside the fields they name. `at` takes the field's path. */
export function useProblems() {
  const problems = ref<Problem[]>([])
  return {
    problems,
    clear: () => (problems.value = []),
    take: (trouble: unknown) => (problems.value = problemsOf(trouble)),
    at: (where: string) => {
      const found = problems.value.find((problem) => problem.where === where)
      return found && `${found.what} ${found.todo}`
    },
  }
}
