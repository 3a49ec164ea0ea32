import { type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { useUndo } from "../ui/Undo";
import { dayText } from "../ui/useClock";

type Block = Schemas["Block"];

/** What is done to the visits of a week. */
export function useBlocks() {
  const offerUndo = useUndo();
  const away = useChange(send.deleteVisit);
  const confirm = useChange((block: Block) =>
    send.confirmDraft({ id: newId(), home_id: block.home_id, rhythm_day: block.rhythm_day ?? block.day }),
  );
  const all = useChange(async (blocks: Block[]) => {
    for (const block of blocks)
      await send.confirmDraft({ id: newId(), home_id: block.home_id, rhythm_day: block.rhythm_day ?? block.day });
  });
  const moving = useChange(({ block, to }: { block: Block; to: string | null }) =>
    block.id != null
      ? send.moveVisit(block.id, to ?? block.day)
      : send.moveDraft({ home_id: block.home_id, rhythm_day: block.rhythm_day ?? block.day, to }),
  );
  return {
    error: confirm.error ?? all.error ?? moving.error ?? away.error,
    isPending: confirm.isPending || all.isPending || moving.isPending,
    confirm: (block: Block) =>
      confirm.mutate(block, {
        onSuccess: ({ id }) => offerUndo({ text: `${block.homes} is confirmed`, undo: () => away.mutate(id) }),
      }),
    confirmAll: (blocks: Block[]) => all.mutate(blocks),
    /** To a day, or nowhere. */
    move: (block: Block, to: string | null) =>
      moving.mutate(
        { block, to },
        {
          onSuccess: () =>
            offerUndo({
              text: to === null ? `${block.homes} is left out` : `${block.homes} is moved to ${dayText(to)}`,
              undo: () => moving.mutate({ block, to: block.day }),
            }),
        },
      ),
  };
}

export type BlockActs = ReturnType<typeof useBlocks>;
