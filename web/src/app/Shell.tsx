// The frame: navigation at the left (a bar below on a phone), the connection line, the pool in view.
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { Fragment, useEffect, useLayoutEffect, useSyncExternalStore } from "react";
import { NavLink, Outlet, useLocation } from "react-router";

import { connection } from "../api/client";
import { useToday } from "../api/plans";
import { useKept } from "../lib/store";
import { Keys } from "../ui/Keys";
import { usePool } from "../ui/PoolSwitch";

const VIEWS = [
  ["/", "Today"],
  ["/bench", "Bench"],
  ["/care", "Care"],
  ["/log", "Log"],
  ["/pool", "Pool"],
  ["/shelf", "Shelf"],
  ["/why", "Why"],
] as const;
const ON_PHONE = ["Today", "Bench", "Log", "Care"];
const Item = chakra(NavLink, {
  base: {
    display: "flex",
    alignItems: "center",
    justifyContent: "center",
    minH: { base: "56px", md: "48px" },
    fontSize: { base: "16px", md: "14px" },
    color: "muted",
    flex: { base: 1, md: "none" },
    position: "relative",
    "&[aria-current=page]": { color: "ink", fontWeight: 700 },
    "&[aria-current=page]::before": {
      content: '""',
      position: "absolute",
      left: { base: "20%", md: 0 },
      right: { base: "20%", md: "auto" },
      top: { base: 0, md: "10px" },
      bottom: { base: "auto", md: "10px" },
      w: { md: "3px" },
      h: { base: "3px", md: "auto" },
      bg: "ink",
    },
  },
});

/** What is under way at the pool in view, under its own name; in the navigation only while it lives. */
function UnderWay() {
  const { pool } = usePool();
  const sheets = useToday(pool?.id).data?.sheets ?? [];
  if (sheets.length === 0) return null;
  return (
    <Item to={sheets.length === 1 ? `/do/${sheets[0]!.id}` : "/do"} display={{ base: "none", md: "flex" }}>
      <Text as="span" textAlign="center" lineHeight="1.2" w="64px" fontSize={{ md: "13px" }}>
        {sheets.length === 1 ? sheets[0]!.name : `${sheets.length} under way`}
      </Text>
    </Item>
  );
}

// Until a person chooses, the system's theme is theirs.
const system = window.matchMedia("(prefers-color-scheme: dark)");
const systemIsDark = () => system.matches;
const follow = (changed: () => void) => {
  system.addEventListener("change", changed);
  return () => system.removeEventListener("change", changed);
};

export function Shell() {
  const online = useSyncExternalStore(connection.subscribe, connection.get);
  const [chosen, setTheme] = useKept<"light" | "dark" | "">("kumpan.theme", "");
  const dusk = useSyncExternalStore(follow, systemIsDark);
  const theme = chosen || (dusk ? "dark" : "light");
  const { pathname } = useLocation();
  useEffect(() => {
    window.scrollTo(0, 0); // its answer (a promise in newer browsers) must not become the clean-up
  }, [pathname]);
  useLayoutEffect(() => {
    document.documentElement.className = theme;
    document.documentElement.style.colorScheme = theme;
  }, [theme]);
  return (
    <Flex minH="100vh" direction={{ base: "column", md: "row" }}>
      <Flex
        as="nav"
        aria-label="Views"
        direction={{ base: "row", md: "column" }}
        w={{ base: "100%", md: "72px" }}
        h={{ base: "64px", md: "100vh" }}
        position={{ base: "fixed", md: "sticky" }}
        bottom={{ base: 0, md: "auto" }}
        top={{ base: "auto", md: 0 }}
        zIndex={20}
        bg="paper"
        borderRight={{ md: "2px solid" }}
        borderTop={{ base: "2px solid", md: "none" }}
        borderColor={{ base: "ink", md: "hair" }}
        flexShrink={0}
      >
        <Text
          display={{ base: "none", md: "block" }}
          fontWeight={800}
          fontSize="14px"
          textAlign="center"
          py="28px"
        >
          kumpan
        </Text>
        {VIEWS.map(([to, name]) => (
          <Fragment key={to}>
            <Item
              to={to}
              end={to === "/"}
              order={{ base: ON_PHONE.indexOf(name), md: "initial" }}
              display={{ base: ON_PHONE.includes(name) ? "flex" : "none", md: "flex" }}
            >
              {name}
            </Item>
            {to === "/" && <UnderWay />}
          </Fragment>
        ))}
        <Item to="/more" display={{ base: "flex", md: "none" }} order={{ base: ON_PHONE.length }}>
          More
        </Item>
        <Box display={{ base: "none", md: "block" }} flex={1} />
        <chakra.button
          order={{ base: ON_PHONE.length + 1, md: "initial" }}
          minH={{ base: "56px", md: "44px" }}
          px={{ base: "10px", md: 0 }}
          fontSize="14px"
          color="muted"
          cursor="pointer"
          onClick={() => setTheme(theme === "light" ? "dark" : "light")}
          aria-label={theme === "light" ? "Dusk theme" : "Day theme"}
        >
          {theme === "light" ? "Dusk" : "Day"}
        </chakra.button>
        <Box display={{ base: "none", md: "block" }} textAlign="center" pb="20px">
          <Keys />
        </Box>
      </Flex>
      <Box flex={1} minW={0} as="main">
        {!online && (
          <Box role="alert" bg="ink" color="paper" px="24px" py="10px" fontWeight={700}>
            Kumpan is not answering. What you typed is kept on this device; trying again …
          </Box>
        )}
        <Outlet />
      </Box>
    </Flex>
  );
}
