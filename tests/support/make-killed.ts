import { createPortal } from "@/data/portals";

createPortal("killed", "Killed", "test");
