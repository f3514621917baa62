interface Box {
  readonly value: string;
  readonly defaultValue: string;
}

/** Whether a box of the page holds other words than it came with. */
export const somethingIsTyped = (page: { querySelectorAll(selector: string): Iterable<Box> }): boolean =>
  [...page.querySelectorAll("input:is([type=text], [type=email], [type=search], [type=password], :not([type])), textarea")].some(
    (box) => box.value !== box.defaultValue,
  );
