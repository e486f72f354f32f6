import { act, renderHook } from "@testing-library/react";
import { describe, expect, it } from "vitest";

import { emptied, useDraft } from "./useDraft";

const typed = (pool: string) => JSON.parse(localStorage.getItem(`kumpan.draft.${pool}`) ?? "{}").texts;

describe("the half-typed test", () => {
  it("is on the device before it is on the screen, and a reload finds it", () => {
    const first = renderHook(() => useDraft("a"));
    act(() => first.result.current.change({ texts: { fc: "3" } }));
    act(() => first.result.current.change((d) => ({ texts: { ...d.texts, ph: "7.4" } })));
    expect(typed("a")).toEqual({ fc: "3", ph: "7.4" });
    first.unmount();
    expect(renderHook(() => useDraft("a")).result.current.draft.texts).toEqual({ fc: "3", ph: "7.4" });
    expect(renderHook(() => useDraft("b")).result.current.draft.texts).toEqual({});
  });

  it("keeps two changes of one moment", () => {
    const { result } = renderHook(() => useDraft("a"));
    act(() => {
      result.current.change((d) => ({ texts: { ...d.texts, fc: "3" } }));
      result.current.change((d) => ({ texts: { ...d.texts, ta: "90" } }));
    });
    expect(result.current.draft.texts).toEqual({ fc: "3", ta: "90" });
  });

  it("reads a draft that an older version kept, and starts anew under new ids once accepted", () => {
    localStorage.setItem("kumpan.draft.a", JSON.stringify({ testId: "t", planId: "p", texts: { fc: "2" } }));
    const { result } = renderHook(() => useDraft("a"));
    expect(result.current.draft).toMatchObject({ testId: "t", texts: { fc: "2" }, more: false, seen: [] });
    act(() => result.current.clear());
    expect(result.current.draft.texts).toEqual({});
    expect(result.current.draft.testId).not.toBe("t");
  });

  it("cleared by hand is of another test: the one before may be stored, its answer lost on the way", () => {
    const { result } = renderHook(() => useDraft("a"));
    act(() => result.current.change({ texts: { fc: "3" }, samplingPoint: "deep end" }));
    const before = result.current.draft;
    act(() => result.current.change(emptied()));
    expect(result.current.draft).toMatchObject({ texts: {}, samplingPoint: "deep end" });
    expect(result.current.draft.testId).not.toBe(before.testId);
    expect(result.current.draft.planId).not.toBe(before.planId);
  });
});
