// The calendar as a file, and as an address that a calendar program on this machine can read.
import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { v7 as uuid } from "uuid";

import { type Care, useEndFeed, useMakeFeed, useRotateFeed } from "../../api/care";
import { type Problem } from "../../api/client";
import { Input, LinkButton, Notice } from "../../ui/controls";

export function Feeds({ care }: { care: Care }) {
  const make = useMakeFeed();
  const rotate = useRotateFeed();
  const end = useEndFeed();
  const [address, setAddress] = useState("");
  const show = (made: { path: string }) => setAddress(window.location.origin + made.path);
  const error = (make.error ?? rotate.error ?? end.error) as Problem | null;
  return (
    <Box fontSize="16px">
      <Text>
        <a href={`/api/v1/pools/${care.pool_id}/care.ics`} download style={{ textDecoration: "underline" }}>
          Fetch the coming year as a calendar file
        </a>
        , or let a calendar program read it by an address of its own.
      </Text>
      <Text fontSize="14px" color="muted" mt="4px">
        Such an address is a key: whoever has it reads this work. Until Kumpan has sign-in it answers on this
        machine alone, so only programs that run here can read it.
      </Text>
      {error && <Notice>{error.message}</Notice>}
      {address && (
        <Box mt="10px" role="status">
          <Text fontWeight={700}>The address, shown this once:</Text>
          <Input
            readOnly
            value={address}
            aria-label="Address of the calendar"
            onFocus={(e) => e.target.select()}
          />
        </Box>
      )}
      {care.feeds.map((feed) => (
        <Flex key={feed.id} gap="16px" align="baseline" mt="8px" wrap="wrap">
          <Text>
            {feed.name}, since {feed.since}
          </Text>
          <LinkButton onClick={() => rotate.mutate(feed.id, { onSuccess: show })}>
            give it a new address
          </LinkButton>
          <LinkButton onClick={() => end.mutate(feed.id)}>take it back</LinkButton>
        </Flex>
      ))}
      <Flex gap="20px" mt="8px">
        <LinkButton
          disabled={make.isPending}
          onClick={() => make.mutate({ id: uuid(), pool_id: care.pool_id }, { onSuccess: show })}
        >
          make an address for this pool
        </LinkButton>
        <LinkButton
          disabled={make.isPending}
          onClick={() => make.mutate({ id: uuid() }, { onSuccess: show })}
        >
          for all pools
        </LinkButton>
      </Flex>
    </Box>
  );
}
