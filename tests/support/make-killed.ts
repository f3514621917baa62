import { createPortal } from "@/data/installation/portals";

createPortal("killed", "Killed", "test");
