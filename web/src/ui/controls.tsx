// Buttons, fields and selects of our own drawing: hairlines, square corners, words under the field.
import { Box, chakra, Text } from "@chakra-ui/react";
import { useId, type ReactNode } from "react";

export const ActButton = chakra("button", {
  base: {
    minH: "44px",
    px: "20px",
    fontSize: "16px",
    fontWeight: 700,
    borderRadius: "mark",
    cursor: "pointer",
    display: "inline-flex",
    alignItems: "center",
    justifyContent: "center",
    textAlign: "center",
    bg: "ink",
    color: "paper",
    border: "2px solid",
    borderColor: "ink",
    _disabled: { bg: "transparent", color: "muted", borderColor: "hair", cursor: "not-allowed" },
  },
  variants: {
    look: {
      solid: {},
      onAct: { bg: "onAct", color: "act", borderColor: "onAct" },
      line: { bg: "transparent", color: "ink" },
      bar: {
        bg: "act",
        color: "onAct",
        borderColor: "act",
        w: "100%",
        minH: "64px",
        fontSize: "20px",
        borderRadius: "0",
      },
    },
  },
  defaultVariants: { look: "solid" },
});

export const LinkButton = chakra("button", {
  base: {
    color: "caution",
    textDecoration: "underline",
    textUnderlineOffset: "3px",
    fontSize: "14px",
    cursor: "pointer",
    minH: { base: "44px", md: "28px" },
    textAlign: "left",
    bg: "transparent",
  },
  variants: { onAct: { true: { color: { md: "onAct" } } } },
});

const field = {
  base: {
    w: "100%",
    minH: "44px",
    px: "10px",
    fontSize: "16px",
    bg: "transparent",
    color: "ink",
    borderRadius: "mark",
    border: "1px solid",
    borderColor: "muted",
    _invalid: { borderColor: "caution", borderWidth: "2px" },
  },
} as const;
export const Input = chakra("input", field);
export const Select = chakra("select", {
  base: {
    ...field.base,
    cursor: "pointer",
    "& option": { background: "var(--chakra-colors-paper)", color: "var(--chakra-colors-ink)" },
  },
});

type FieldProps = {
  label: string;
  error?: string | undefined;
  hint?: string | undefined;
  children: (props: {
    id: string;
    "aria-invalid": boolean;
    "aria-describedby": string | undefined;
  }) => ReactNode;
};

/** A labelled field; what is wrong is said below it, in words. */
export function Field({ label, error, hint, children }: FieldProps) {
  const id = useId();
  const note = error ?? hint;
  return (
    <Box>
      <chakra.label htmlFor={id} fontSize="14px" fontWeight={700} display="block" mb="4px">
        {label}
      </chakra.label>
      {children({ id, "aria-invalid": !!error, "aria-describedby": note ? `${id}-note` : undefined })}
      {note && (
        <Text
          id={`${id}-note`}
          mt="4px"
          fontSize="14px"
          color={error ? "caution" : "muted"}
          fontWeight={error ? 700 : 400}
        >
          {note}
        </Text>
      )}
    </Box>
  );
}

/** A plain message where something failed. */
export function Notice({ children }: { children: ReactNode }) {
  return (
    <Box
      role="alert"
      borderLeft="4px solid"
      borderColor="caution"
      pl="12px"
      py="6px"
      color="caution"
      fontWeight={700}
      fontSize="16px"
    >
      {children}
    </Box>
  );
}
