import { DropdownMenu, Dialog as RadixDialog, Popover as RadixPopover } from "radix-ui";
import type { ReactNode } from "react";

export function Dialog({
  title,
  open,
  onClose,
  children,
  wide = false,
}: {
  title: string;
  open: boolean;
  onClose: () => void;
  children: ReactNode;
  wide?: boolean;
}) {
  return (
    <RadixDialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <RadixDialog.Content
          aria-describedby={undefined}
          className={`fade-in fixed top-[9vh] left-1/2 z-50 max-h-[84vh] w-[92vw] -translate-x-1/2 overflow-auto rounded-lg border border-line2 bg-sheet p-5 shadow-xl ${wide ? "max-w-[880px]" : "max-w-[460px]"}`}
        >
          <RadixDialog.Title className="mb-3 text-[16px] font-[650]">{title}</RadixDialog.Title>
          {children}
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
}

export function Popover({
  trigger,
  children,
  open,
  onOpenChange,
  width = 300,
}: {
  trigger: ReactNode;
  children: ReactNode;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  width?: number;
}) {
  return (
    <RadixPopover.Root {...(open === undefined ? {} : { open })} {...(onOpenChange ? { onOpenChange } : {})}>
      <RadixPopover.Trigger asChild>{trigger}</RadixPopover.Trigger>
      <RadixPopover.Portal>
        <RadixPopover.Content
          align="start"
          sideOffset={6}
          collisionPadding={10}
          style={{ width }}
          className="fade-in z-40 max-h-[70vh] overflow-auto rounded-lg border border-line2 bg-sheet p-3.5 shadow-xl"
        >
          {children}
        </RadixPopover.Content>
      </RadixPopover.Portal>
    </RadixPopover.Root>
  );
}

type Items = readonly { label: ReactNode; onSelect: () => void; danger?: boolean; disabled?: boolean }[];

/** What else can be done with a row. */
export function MoreMenu({ label, items }: { label: string; items: Items }) {
  return (
    <Menu
      trigger={
        <button type="button" aria-label={label} className="px-1.5 font-bold text-ink3 hover:text-ink">
          ⋯
        </button>
      }
      items={items}
    />
  );
}

export function Menu({
  trigger,
  items,
  opened = false,
}: {
  trigger: ReactNode;
  items: Items;
  /** It is there because it was asked for, and opens at once. */
  opened?: boolean;
}) {
  return (
    <DropdownMenu.Root defaultOpen={opened}>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={5}
          collisionPadding={10}
          className="fade-in z-50 min-w-[190px] rounded-md border border-line2 bg-sheet p-1 text-ink shadow-xl"
        >
          {items.map((item, at) => (
            <DropdownMenu.Item
              key={at}
              disabled={item.disabled ?? false}
              onSelect={item.onSelect}
              className={`cursor-pointer rounded px-2.5 py-1.5 outline-none data-[disabled]:opacity-40 data-[highlighted]:bg-tint ${item.danger ? "text-rust" : ""}`}
            >
              {item.label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
