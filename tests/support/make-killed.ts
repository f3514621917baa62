import { system } from "@/core/events/event";
import { createPortal } from "@/data/installation/portals";
import { feedEvents } from "@/server/feeds";

feedEvents();

createPortal("killed", "Killed", { actor: system("test"), name: "test", at: Date.now() });
