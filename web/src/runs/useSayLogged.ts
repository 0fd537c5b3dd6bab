import { Button as AButton, message } from 'ant-design-vue'
import { h } from 'vue'

import { useSetAside } from '../api/runs'

/** Says that a run was logged and offers to take it back: it is then set aside with that reason, not deleted. */
export function useSayLogged() {
  const { mutateAsync: setAside } = useSetAside()
  return (run: { id: number; workload_name: string; setting_title: string }): void => {
    const undo = async (): Promise<void> => {
      await setAside({ id: run.id, reason: 'Taken back right after it was logged.' })
      message.destroy('logged')
    }
    void message.success({
      key: 'logged',
      duration: 6,
      content: () => h('span', [`Logged: ${run.workload_name}, ${run.setting_title} `, h(AButton, { type: 'link', size: 'small', onClick: undo }, () => 'Undo')]),
    })
  }
}
