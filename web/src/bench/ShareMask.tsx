import LinkIcon from "@mui/icons-material/Link";
import Button from "@mui/material/Button";
import Divider from "@mui/material/Divider";
import InputBase from "@mui/material/InputBase";
import ListItemText from "@mui/material/ListItemText";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import type { SiteDocument } from "../api/client";
import { freshId } from "../site/layers";
import { useChange, useDocument } from "../site/context";
import { colours } from "../theme/theme";
import { chainOf, detach, follow, followers, share } from "../site/sharedMasks";

interface Props {
  where: SiteDocument["weather"][number]["where"];
  /** JSON pointer of the mask. */
  path: string;
  subject: string;
}

/** Says who shares a mask, and lets it be shared, followed, renamed or detached. */
export function ShareMask({ where, path, subject }: Props) {
  const document = useDocument();
  const change = useChange();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { shared, row, cards } = chainOf(document, where, path);
  const users = (id: string) => Object.values(followers(document, id)).flat();
  const choose = (label: string, operations: Parameters<typeof change.now>[1]) => {
    change.now(`${subject}: ${label}`, operations);
    setAnchor(null);
  };
  const others = document.wheres.map((mask, at) => ({ mask, at })).filter(({ mask }) => mask.id !== where.shared);
  return (
    <>
      <Button
        startIcon={<LinkIcon />}
        onClick={(event) => setAnchor(event.currentTarget)}
        aria-haspopup="menu"
        sx={{ py: 0, minHeight: 0, fontSize: 12, color: shared ? colours.water : colours.faint }}
      >
        {shared ? `${shared.name}, shared by ${users(shared.id).length}` : "Share"}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {shared && (
          <MenuItem disableRipple onKeyDown={(event) => event.stopPropagation()} sx={{ cursor: "default" }}>
            <InputBase
              key={shared.name}
              defaultValue={shared.name}
              inputProps={{ "aria-label": "Name of the shared mask", maxLength: 80 }}
              onBlur={(event) => {
                const name = event.target.value.trim();
                if (name && name !== shared.name)
                  change.now(`Rename mask ${shared.name}`, [
                    { op: "replace", path: `/wheres/${row}/name`, value: name },
                  ]);
              }}
              sx={{ fontWeight: 600 }}
            />
          </MenuItem>
        )}
        {shared && (
          <MenuItem disabled dense sx={{ maxWidth: 380, whiteSpace: "normal" }}>
            Followed by{" "}
            {users(shared.id)
              .map((layer) => layer.name)
              .join(", ")}
            . A change here changes them all.
          </MenuItem>
        )}
        {shared && (
          <MenuItem dense onClick={() => choose("detach its mask", detach(document, where, path))}>
            <ListItemText primary="Detach here" secondary="Keeps these cards; later changes to the others stay away." />
          </MenuItem>
        )}
        {!shared && (
          <MenuItem
            dense
            disabled={!cards.length}
            onClick={() => choose("share its mask", share(where, path, freshId("mask"), `Where of ${subject}`))}
          >
            <ListItemText
              primary="Share this mask"
              secondary={cards.length ? "Others can follow it by its name." : "It has no cards yet."}
            />
          </MenuItem>
        )}
        {others.length > 0 && <Divider />}
        {others.map(({ mask, at }) => {
          const used = users(mask.id);
          return [
            <MenuItem key={mask.id} dense onClick={() => choose(`follow ${mask.name}`, follow(mask, path))}>
              <ListItemText
                primary={`Follow “${mask.name}”`}
                secondary={`${mask.cards.length} cards, ${used.length ? `shared by ${used.map(({ name }) => name).join(", ")}` : "followed by none"}`}
              />
            </MenuItem>,
            used.length === 0 && (
              <MenuItem
                key={`${mask.id} away`}
                dense
                onClick={() => choose(`delete mask ${mask.name}`, [{ op: "remove", path: `/wheres/${at}` }])}
              >
                <ListItemText primary={`Delete “${mask.name}”`} secondary="Nobody follows it." />
              </MenuItem>
            ),
          ];
        })}
      </Menu>
    </>
  );
}
