#compdef jar-tide
# Completion for jar-tide.
_shtab_jar_tide_commands() {
  local _commands=(
    card:'write the photo card to print'
    check:'look a workspace over: database, records, every photo'
    compare:'compare a photo of a board with one of the target'
    demo:'open the demo job, copied to a fresh place'
    glaze:'find glazes over a ground, or predict one'
    mix:'find mixes for a colour, or predict one'
    plan:'propose the plan for a finish on a piece: steps, amounts, rules, schedule'
    prepare:'find the card, square, scale, neutralise; write the flat picture'
    read:'read a photo: layers, colours, pattern'
  )
  _describe 'jar-tide commands' _commands
}

_shtab_jar_tide_options=(
  "(- : *)"{-h,--help}"[show this help message and exit]"
  "(- : *)--version[show program\'s version number and exit]"
  "--workspace[folder of the workspace to open]:workspace:_files -/"
  "--install-desktop[put Jar Tide into this user\'s menu, with its icon, manual page and shell completion, and end]"
  "--remove-desktop[take them out of the menu again, and end]"
)

# guard to ensure default positional specs are added only once per session
_shtab_jar_tide_defaults_added=0

_shtab_jar_tide_card_options=(
  "(- : *)"{-h,--help}"[show this help message and exit]"
  "--out[where to write the card\: .pdf, .svg or .png]:card.pdf:_files"
  "--size[A5, A6, credit-card or L-strip\; A6 when not given]:SIZE:"
  "--dpi[resolution of a PNG\; 300 when not given]:N:"
)

# guard to ensure default positional specs are added only once per session
_shtab_jar_tide_card_defaults_added=0

_shtab_jar_tide_check_options=(
  "(- : *)"{-h,--help}"[show this help message and exit]"
  "--repair[put right what can be\; nothing is thrown away]"
  "--json[print JSON (it always is\; for scripts that say so)]"
  ":WORKSPACE:"
)

# guard to ensure default positional specs are added only once per session
_shtab_jar_tide_check_defaults_added=0

_shtab_jar_tide_compare_options=(
  "(- : *)"{-h,--help}"[show this help message and exit]"
  "--mm-per-px-target[X]:X:"
  "--mm-per-px-board[Y]:Y:"
  "--scan[the photo is a flatbed scan\: its own dpi and colour profile are true]"
  "--viewing-m[viewing distance in metres\; 2 when not given]:M:"
  "--tolerance[just visible differences below which a board is close (4)]:N:"
  "--same-spot[both photos show the very same piece]"
  "--colours-known[both photos show their colours as they are, as neutral pictures made before do]"
  "--made[painted or reaction\: how a rust or patina came about, on which its mend depends]:HOW:"
  "--target-state[what the target\'s surface is\: dry, wet or sealed]:STATE:"
  "--board-state[what the board\'s surface is\; another than the target\'s has its colours predicted]:STATE:"
  "--family[finish family\; auto when not given]:NAME:"
  "--json[print JSON (it always is\; for scripts that say so)]"
  "--batch[a file of options, one JSON object a line\; one result a line]:FILE.jsonl:_files"
  ":photos or saved readings\; TARGET and BOARD each also take what read takes, as --target-corners or --board-region:_files"
  ":BOARD:_files"
)

# guard to ensure default positional specs are added only once per session
_shtab_jar_tide_compare_defaults_added=0

_shtab_jar_tide_demo_options=(
  "(- : *)"{-h,--help}"[show this help message and exit]"
)

# guard to ensure default positional specs are added only once per session
_shtab_jar_tide_demo_defaults_added=0

_shtab_jar_tide_glaze_options=(
  "(- : *)"{-h,--help}"[show this help message and exit]"
  "--shelf[the paints\: a CSV of their swatches]:SHELF.csv:_files"
  "--target[the wanted colour, or a paint\'s name]:L,a,b:"
  "--parts[predict these parts]:NAME=3,NAME=1:"
  "--max-paints[most paints in one recipe]:N:"
  "--max-parts[most parts in all, by wet volume]:N:"
  "--top[how many recipes]:N:"
  "--include[only these paints]:NAME,NAME:"
  "--exclude[not these paints]:NAME,NAME:"
  "--base[the ground\'s colour, or a paint\'s name]:L,a,b:"
  "--max-coats[most coats]:N:"
  "--carrier[parts of glaze medium]:PARTS:"
  "--carrier-name[which glaze medium, as named in the shelf file]:NAME:"
  "--water[parts of water]:PARTS:"
  "--no-water[glaze medium only, never water]"
  "--coats[coats to predict]:N:"
  "--json[print JSON (it always is\; for scripts that say so)]"
  "--batch[a file of options, one JSON object a line\; one result a line]:FILE.jsonl:_files"
)

# guard to ensure default positional specs are added only once per session
_shtab_jar_tide_glaze_defaults_added=0

_shtab_jar_tide_mix_options=(
  "(- : *)"{-h,--help}"[show this help message and exit]"
  "--shelf[the paints\: a CSV of their swatches]:SHELF.csv:_files"
  "--target[the wanted colour, or a paint\'s name]:L,a,b:"
  "--parts[predict these parts]:NAME=3,NAME=1:"
  "--max-paints[most paints in one recipe]:N:"
  "--max-parts[most parts in all, by wet volume]:N:"
  "--top[how many recipes]:N:"
  "--include[only these paints]:NAME,NAME:"
  "--exclude[not these paints]:NAME,NAME:"
  "--stock[what is left of them\: a CSV joined by name]:STOCK.csv:_files"
  "--keep[each mix holds these paints]:NAME,NAME:"
  "--own-black[no black from the tin\: blacks from complements]"
  "--let-down[also look for a mix with its strong paint let down first, where a part of it is too much]"
  "--over[an old colour to be hidden by these parts]:L,a,b:"
  "--primer[a tinted primer laid over it first]:L,a,b:"
  "--amount-ml[how much is to be mixed]:ML:"
  "--spoon-ml[the least that can be measured]:ML:"
  "--json[print JSON (it always is\; for scripts that say so)]"
  "--batch[a file of options, one JSON object a line\; one result a line]:FILE.jsonl:_files"
)

# guard to ensure default positional specs are added only once per session
_shtab_jar_tide_mix_defaults_added=0

_shtab_jar_tide_plan_options=(
  "(- : *)"{-h,--help}"[show this help message and exit]"
  "--mm-per-px[millimetres per pixel of the photo]:X:"
  "--corners[corners of a known rectangle, clockwise from its top left, in pixels]:x,y,x,y,x,y,x,y:"
  "--size[size of that rectangle in mm]:WxH:"
  "--neutral[a patch of grey or white, in pixels]:x,y,w,h:"
  "--neutral-L[its lightness L\*]:L:"
  "--region[the part to read, in pixels of the photo]:x,y,w,h:"
  "--card-values[CSV of this print\'s patches as a colour reader saw them\: patch,L,a,b]:FILE.csv:_files"
  "--card-height[how far the card\'s face lies above (\+) or below (-) the measured face, mm]:MM:"
  "--card-length[the length of the card\'s ruler as printed, mm, when it is not what it says]:MM:"
  "--whole-plane[read all that is seen, not only the piece found in the photo]"
  "--no-card[take no notice of a card in the photo]"
  "--chart[CSV of a chart of known patches\: row,column,L,a,b]:FILE.csv:_files"
  "--chart-corners[the chart\'s outer corners, clockwise from its first patch]:x,y,x,y,x,y,x,y:"
  "--even-light[even the light out, estimated from the picture]"
  "--as-lit[leave the light as it fell, even where the card would even it]"
  "--blank[photo of a blank board in the same place, to even the light by]:PHOTO:_files"
  "--leave-out[rectangles not to read, separated by semicolons]:x,y,w,h;...:_files"
  "--scan[the photo is a flatbed scan\: its own dpi and colour profile are true]"
  "--joints-as-lines[read joints of boards, bricks, tiles or panels as lines, instead of leaving them out]"
  "--sheen[how shiny\: dead matt, matt, eggshell, satin, semi-gloss, gloss or mirror]:WORD:"
  "--family[finish family\; auto when not given]:NAME:"
  "--zones[read the zones the piece seems to have by themselves too\: two parts, worn edges, ridges and hollows]"
  "--piece[width x height of one piece, mm]:WxH:"
  "--count[how many of them]:N:"
  "--shape[rectangle, column, turned or moulding]:WORD:"
  "--substrate[what it is made of, as in surfaces.toml]:WORD:"
  "--conditions[how it is found, as in surfaces.toml]:WORD,WORD:"
  "--place[inside or outside]:WORD:"
  "--wear[wall, touched, floor, worktop or wet]:WORD:"
  "--facing[north, east, south, west or level]:WORD:"
  "--relief-factor[how much more surface texture makes, 1 for flat]:X:"
  "--openings[square metres to take off one piece]:M2:"
  "--beside[what stays beside it as it is (a floor, shutters)\: it is read first]:WORDS:"
  "--latitude[where outside work is, north positive\: with the season it says when the sun stands on the face]:DEGREES:"
  "--schools[choices between schools, as in schools.toml]:GROUP=CHOICE,...:_files"
  "--begins[first day, like 2026-05-14]:DATE:"
  "--workers[how many people]:N:"
  "--temperature[of the air, degrees C]:C:"
  "--humidity[of the air, percent]:PERCENT:"
  "--weather[hourly weather for outside]:FILE.csv:_files"
  "--shelf[paints to mix the layers from\: each jar\'s parts and millilitres]:SHELF.csv:_files"
  "--change[parts of steps that you have otherwise, such as S4.coats\=2\; S7.note\=Two thin ones]:S4.coats=2;...:_files"
  "--let-stand[findings that may stand, each with the reason]:RULE=WHY;...:_files"
  "--behind-glass[it is painted on the back and seen through glass]"
  "--json[print JSON (it always is\; for scripts that say so)]"
  "--batch[a file of options, one JSON object a line\; one result a line]:FILE.jsonl:_files"
  "(*)::PHOTO:_files"
)

# guard to ensure default positional specs are added only once per session
_shtab_jar_tide_plan_defaults_added=0

_shtab_jar_tide_prepare_options=(
  "(- : *)"{-h,--help}"[show this help message and exit]"
  "--mm-per-px[millimetres per pixel of the photo]:X:"
  "--corners[corners of a known rectangle, clockwise from its top left, in pixels]:x,y,x,y,x,y,x,y:"
  "--size[size of that rectangle in mm]:WxH:"
  "--neutral[a patch of grey or white, in pixels]:x,y,w,h:"
  "--neutral-L[its lightness L\*]:L:"
  "--region[the part to read, in pixels of the photo]:x,y,w,h:"
  "--card-values[CSV of this print\'s patches as a colour reader saw them\: patch,L,a,b]:FILE.csv:_files"
  "--card-height[how far the card\'s face lies above (\+) or below (-) the measured face, mm]:MM:"
  "--card-length[the length of the card\'s ruler as printed, mm, when it is not what it says]:MM:"
  "--whole-plane[read all that is seen, not only the piece found in the photo]"
  "--no-card[take no notice of a card in the photo]"
  "--chart[CSV of a chart of known patches\: row,column,L,a,b]:FILE.csv:_files"
  "--chart-corners[the chart\'s outer corners, clockwise from its first patch]:x,y,x,y,x,y,x,y:"
  "--even-light[even the light out, estimated from the picture]"
  "--as-lit[leave the light as it fell, even where the card would even it]"
  "--blank[photo of a blank board in the same place, to even the light by]:PHOTO:_files"
  "--leave-out[rectangles not to read, separated by semicolons]:x,y,w,h;...:_files"
  "--scan[the photo is a flatbed scan\: its own dpi and colour profile are true]"
  "--joints-as-lines[read joints of boards, bricks, tiles or panels as lines, instead of leaving them out]"
  "--sheen[how shiny\: dead matt, matt, eggshell, satin, semi-gloss, gloss or mirror]:WORD:"
  "--out[where to write the flat picture (PNG)]:FLAT.png:_files"
  "--json[print JSON (it always is\; for scripts that say so)]"
  "--batch[a file of options, one JSON object a line\; one result a line]:FILE.jsonl:_files"
  ":PHOTO:_files"
)

# guard to ensure default positional specs are added only once per session
_shtab_jar_tide_prepare_defaults_added=0

_shtab_jar_tide_read_options=(
  "(- : *)"{-h,--help}"[show this help message and exit]"
  "--mm-per-px[millimetres per pixel of the photo]:X:"
  "--corners[corners of a known rectangle, clockwise from its top left, in pixels]:x,y,x,y,x,y,x,y:"
  "--size[size of that rectangle in mm]:WxH:"
  "--neutral[a patch of grey or white, in pixels]:x,y,w,h:"
  "--neutral-L[its lightness L\*]:L:"
  "--region[the part to read, in pixels of the photo]:x,y,w,h:"
  "--card-values[CSV of this print\'s patches as a colour reader saw them\: patch,L,a,b]:FILE.csv:_files"
  "--card-height[how far the card\'s face lies above (\+) or below (-) the measured face, mm]:MM:"
  "--card-length[the length of the card\'s ruler as printed, mm, when it is not what it says]:MM:"
  "--whole-plane[read all that is seen, not only the piece found in the photo]"
  "--no-card[take no notice of a card in the photo]"
  "--chart[CSV of a chart of known patches\: row,column,L,a,b]:FILE.csv:_files"
  "--chart-corners[the chart\'s outer corners, clockwise from its first patch]:x,y,x,y,x,y,x,y:"
  "--even-light[even the light out, estimated from the picture]"
  "--as-lit[leave the light as it fell, even where the card would even it]"
  "--blank[photo of a blank board in the same place, to even the light by]:PHOTO:_files"
  "--leave-out[rectangles not to read, separated by semicolons]:x,y,w,h;...:_files"
  "--scan[the photo is a flatbed scan\: its own dpi and colour profile are true]"
  "--joints-as-lines[read joints of boards, bricks, tiles or panels as lines, instead of leaving them out]"
  "--sheen[how shiny\: dead matt, matt, eggshell, satin, semi-gloss, gloss or mirror]:WORD:"
  "--family[finish family\; auto when not given]:NAME:"
  "--zones[read the zones the piece seems to have by themselves too\: two parts, worn edges, ridges and hollows]"
  "--layers-to[write the picture that was read and one grey picture per layer (how much of it is seen where) into this folder\; one photo only]:DIR:"
  "--json[print JSON (it always is\; for scripts that say so)]"
  "--batch[a file of options, one JSON object a line\; one result a line]:FILE.jsonl:_files"
  "(*)::PHOTO:_files"
)

# guard to ensure default positional specs are added only once per session
_shtab_jar_tide_read_defaults_added=0


_shtab_jar_tide() {
  local context state line curcontext="$curcontext" one_or_more='(*)' remainder='(-)*:' default='*::: :->jar-tide'

  # Add default positional/remainder specs only if none exist, and only once per session
  if (( ! _shtab_jar_tide_defaults_added )); then
    if (( ${_shtab_jar_tide_options[(I)${(q)one_or_more}*]} +          ${_shtab_jar_tide_options[(I)${(q)remainder}*]} +          ${_shtab_jar_tide_options[(I)${(q)default}]} == 0 )); then
      _shtab_jar_tide_options+=(': :_shtab_jar_tide_commands' '*::: :->jar-tide')
    fi
    _shtab_jar_tide_defaults_added=1
  fi
  _arguments -C -s $_shtab_jar_tide_options

  case $state in
    jar-tide)
      words=($line[1] "${words[@]}")
      (( CURRENT += 1 ))
      curcontext="${curcontext%:*:*}:_shtab_jar_tide-$line[1]:"
      case $line[1] in
        card) _arguments -C -s $_shtab_jar_tide_card_options ;;
        check) _arguments -C -s $_shtab_jar_tide_check_options ;;
        compare) _arguments -C -s $_shtab_jar_tide_compare_options ;;
        demo) _arguments -C -s $_shtab_jar_tide_demo_options ;;
        glaze) _arguments -C -s $_shtab_jar_tide_glaze_options ;;
        mix) _arguments -C -s $_shtab_jar_tide_mix_options ;;
        plan) _arguments -C -s $_shtab_jar_tide_plan_options ;;
        prepare) _arguments -C -s $_shtab_jar_tide_prepare_options ;;
        read) _arguments -C -s $_shtab_jar_tide_read_options ;;
      esac
  esac
}



typeset -A opt_args

if [[ $zsh_eval_context[-1] == eval ]]; then
  # eval/source/. command, register function for later
  compdef _shtab_jar_tide -N jar-tide
else
  # autoload from fpath, call function directly
  _shtab_jar_tide "$@"
fi
