import NextLink from "next/link";
import type { ComponentProps } from "react";

/** A link as Next makes it, but nothing is fetched before somebody follows it: a list of fifty records would ask for all fifty. */
export const Link = (props: Omit<ComponentProps<typeof NextLink>, "prefetch">) => <NextLink {...props} prefetch={false} />;
