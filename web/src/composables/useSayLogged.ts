import { useSetAside } from '../api/runs'
import { sayWithUndo } from './sayWithUndo'

/** Says that a run was logged and offers to take it back: it is then set aside with that reason, not deleted. */
export function useSayLogged() {
  const { mutateAsync: setAside } = useSetAside()
  return (run: { id: number; workload_name: string; setting_title: string }): void =>
    sayWithUndo('logged', `Logged: ${run.workload_name}, ${run.setting_title} `, () =>
      setAside({ id: run.id, reason: 'Taken back right after it was logged.' }),
    )
}
