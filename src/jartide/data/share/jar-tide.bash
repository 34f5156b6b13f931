# Completion for jar-tide.
_shtab_jar_tide_subparsers=(read compare prepare card mix glaze plan check demo)

_shtab_jar_tide_read_option_strings=(-h --help --mm-per-px --corners --size --neutral --neutral-L --region --card-values --card-height --card-length --whole-plane --no-card --chart --chart-corners --even-light --as-lit --blank --leave-out --scan --joints-as-lines --sheen --family --zones --layers-to --json --batch)
_shtab_jar_tide_compare_option_strings=(-h --help --mm-per-px-target --mm-per-px-board --scan --viewing-m --tolerance --same-spot --colours-known --made --target-state --board-state --family --json --batch)
_shtab_jar_tide_prepare_option_strings=(-h --help --mm-per-px --corners --size --neutral --neutral-L --region --card-values --card-height --card-length --whole-plane --no-card --chart --chart-corners --even-light --as-lit --blank --leave-out --scan --joints-as-lines --sheen --out --json --batch)
_shtab_jar_tide_card_option_strings=(-h --help --out --size --dpi)
_shtab_jar_tide_mix_option_strings=(-h --help --shelf --target --parts --max-paints --max-parts --top --include --exclude --stock --keep --own-black --let-down --over --primer --amount-ml --spoon-ml --json --batch)
_shtab_jar_tide_glaze_option_strings=(-h --help --shelf --target --parts --max-paints --max-parts --top --include --exclude --base --max-coats --carrier --carrier-name --water --no-water --coats --json --batch)
_shtab_jar_tide_plan_option_strings=(-h --help --mm-per-px --corners --size --neutral --neutral-L --region --card-values --card-height --card-length --whole-plane --no-card --chart --chart-corners --even-light --as-lit --blank --leave-out --scan --joints-as-lines --sheen --family --zones --piece --count --shape --substrate --conditions --place --wear --facing --relief-factor --openings --beside --latitude --schools --begins --workers --temperature --humidity --weather --shelf --change --let-stand --behind-glass --json --batch)
_shtab_jar_tide_check_option_strings=(-h --help --repair --json)
_shtab_jar_tide_demo_option_strings=(-h --help)
_shtab_jar_tide_option_strings=(-h --help --version --workspace --install-desktop --remove-desktop)

_shtab_jar_tide_read_pos_0_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_read___card_values_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_read___chart_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_read___blank_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_read___leave_out_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_read___batch_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_compare_pos_0_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_compare_pos_1_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_compare___batch_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_prepare_pos_0_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_prepare___card_values_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_prepare___chart_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_prepare___blank_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_prepare___leave_out_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_prepare___out_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_prepare___batch_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_card___out_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_mix___shelf_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_mix___stock_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_mix___batch_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_glaze___shelf_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_glaze___batch_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_plan_pos_0_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_plan___card_values_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_plan___chart_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_plan___blank_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_plan___leave_out_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_plan___schools_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_plan___weather_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_plan___shelf_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_plan___change_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_plan___let_stand_COMPGEN=_shtab_compgen_files
_shtab_jar_tide_plan___batch_COMPGEN=_shtab_compgen_files
_shtab_jar_tide___workspace_COMPGEN=_shtab_compgen_dirs

_shtab_jar_tide_pos_0_choices=(read compare prepare card mix glaze plan check demo)

_shtab_jar_tide_read_pos_0_nargs='*'
_shtab_jar_tide_read__h_nargs=0
_shtab_jar_tide_read___help_nargs=0
_shtab_jar_tide_read___whole_plane_nargs=0
_shtab_jar_tide_read___no_card_nargs=0
_shtab_jar_tide_read___even_light_nargs=0
_shtab_jar_tide_read___as_lit_nargs=0
_shtab_jar_tide_read___scan_nargs=0
_shtab_jar_tide_read___joints_as_lines_nargs=0
_shtab_jar_tide_read___zones_nargs=0
_shtab_jar_tide_read___json_nargs=0
_shtab_jar_tide_compare__h_nargs=0
_shtab_jar_tide_compare___help_nargs=0
_shtab_jar_tide_compare___scan_nargs=0
_shtab_jar_tide_compare___same_spot_nargs=0
_shtab_jar_tide_compare___colours_known_nargs=0
_shtab_jar_tide_compare___json_nargs=0
_shtab_jar_tide_prepare__h_nargs=0
_shtab_jar_tide_prepare___help_nargs=0
_shtab_jar_tide_prepare___whole_plane_nargs=0
_shtab_jar_tide_prepare___no_card_nargs=0
_shtab_jar_tide_prepare___even_light_nargs=0
_shtab_jar_tide_prepare___as_lit_nargs=0
_shtab_jar_tide_prepare___scan_nargs=0
_shtab_jar_tide_prepare___joints_as_lines_nargs=0
_shtab_jar_tide_prepare___json_nargs=0
_shtab_jar_tide_card__h_nargs=0
_shtab_jar_tide_card___help_nargs=0
_shtab_jar_tide_mix__h_nargs=0
_shtab_jar_tide_mix___help_nargs=0
_shtab_jar_tide_mix___own_black_nargs=0
_shtab_jar_tide_mix___let_down_nargs=0
_shtab_jar_tide_mix___json_nargs=0
_shtab_jar_tide_glaze__h_nargs=0
_shtab_jar_tide_glaze___help_nargs=0
_shtab_jar_tide_glaze___no_water_nargs=0
_shtab_jar_tide_glaze___json_nargs=0
_shtab_jar_tide_plan_pos_0_nargs='*'
_shtab_jar_tide_plan__h_nargs=0
_shtab_jar_tide_plan___help_nargs=0
_shtab_jar_tide_plan___whole_plane_nargs=0
_shtab_jar_tide_plan___no_card_nargs=0
_shtab_jar_tide_plan___even_light_nargs=0
_shtab_jar_tide_plan___as_lit_nargs=0
_shtab_jar_tide_plan___scan_nargs=0
_shtab_jar_tide_plan___joints_as_lines_nargs=0
_shtab_jar_tide_plan___zones_nargs=0
_shtab_jar_tide_plan___behind_glass_nargs=0
_shtab_jar_tide_plan___json_nargs=0
_shtab_jar_tide_check__h_nargs=0
_shtab_jar_tide_check___help_nargs=0
_shtab_jar_tide_check___repair_nargs=0
_shtab_jar_tide_check___json_nargs=0
_shtab_jar_tide_demo__h_nargs=0
_shtab_jar_tide_demo___help_nargs=0
_shtab_jar_tide_pos_0_nargs=A...
_shtab_jar_tide__h_nargs=0
_shtab_jar_tide___help_nargs=0
_shtab_jar_tide___version_nargs=0
_shtab_jar_tide___install_desktop_nargs=0
_shtab_jar_tide___remove_desktop_nargs=0


# $1=COMP_WORDS[1]
_shtab_compgen_files() {
  compgen -f -- $1  # files
}

# $1=COMP_WORDS[1]
_shtab_compgen_dirs() {
  compgen -d -- $1  # recurse into subdirs
}

# $1=COMP_WORDS[1]
_shtab_replace_nonword() {
  echo "${1//[^[:word:]]/_}"
}

# set default values (called for the initial parser & any subparsers)
_set_parser_defaults() {
  local subparsers_var="${prefix}_subparsers[@]"
  sub_parsers=${!subparsers_var-}

  local current_option_strings_var="${prefix}_option_strings[@]"
  current_option_strings=${!current_option_strings_var}

  completed_positional_actions=0

  _set_new_action "pos_$completed_positional_actions" true
}

# $1=action identifier
# $2=positional action (bool)
# set all identifiers for an action's parameters
_set_new_action() {
  current_action="${prefix}_$(_shtab_replace_nonword $1)"

  local current_action_compgen_var=${current_action}_COMPGEN
  current_action_compgen="${!current_action_compgen_var-}"

  local current_action_choices_var="${current_action}_choices[@]"
  current_action_choices="${!current_action_choices_var-}"

  local current_action_nargs_var="${current_action}_nargs"
  if [ -n "${!current_action_nargs_var-}" ]; then
    current_action_nargs="${!current_action_nargs_var}"
  else
    current_action_nargs=1
  fi

  current_action_args_start_index=$(( $word_index + 1 - $pos_only ))

  current_action_is_positional=$2
}

# Notes:
# `COMPREPLY`: what will be rendered after completion is triggered
# `completing_word`: currently typed word to generate completions for
# `${!var}`: evaluates the content of `var` and expand its content as a variable
#     hello="world"
#     x="hello"
#     ${!x} -> ${hello} -> "world"
_shtab_jar_tide() {
  local completing_word="${COMP_WORDS[COMP_CWORD]}"
  local previous_word="${COMP_WORDS[COMP_CWORD-1]}"
  local completed_positional_actions
  local current_action
  local current_action_args_start_index
  local current_action_choices
  local current_action_compgen
  local current_action_is_positional
  local current_action_nargs
  local current_option_strings
  local sub_parsers
  COMPREPLY=()

  local prefix=_shtab_jar_tide
  local word_index=0
  local pos_only=0 # "--" delimiter not encountered yet
  _set_parser_defaults
  word_index=1

  # determine what arguments are appropriate for the current state
  # of the arg parser
  while [ $word_index -ne $COMP_CWORD ]; do
    local this_word="${COMP_WORDS[$word_index]}"

    if [[ $pos_only = 1 || " $this_word " != " -- " ]]; then
      if [[ -n $sub_parsers && " ${sub_parsers[@]} " == *" $this_word "* ]]; then
        # valid subcommand: add it to the prefix & reset the current action
        prefix="${prefix}_$(_shtab_replace_nonword $this_word)"
        _set_parser_defaults
      fi

      if [[ " ${current_option_strings[@]} " == *" $this_word "* ]]; then
        # a new action should be acquired (due to recognised option string or
        # no more input expected from current action);
        # the next positional action can fill in here
        _set_new_action $this_word false
      fi

      if [[ "$current_action_nargs" != "*" ]] && \
         [[ "$current_action_nargs" != "+" ]] && \
         [[ "$current_action_nargs" != "?" ]] && \
         [[ "$current_action_nargs" != *"..." ]] && \
         (( $word_index + 1 - $current_action_args_start_index - $pos_only >= \
            $current_action_nargs )); then
        $current_action_is_positional && let "completed_positional_actions += 1"
        _set_new_action "pos_$completed_positional_actions" true
      fi
    else
      pos_only=1 # "--" delimiter encountered
    fi

    let "word_index+=1"
  done

  # Generate the completions

  COMPREPLY=()
  if [[ $pos_only = 0 && "$completing_word" == -* &&
        ( -z "$current_action_compgen" || "$current_action_is_positional" = true ) ]]; then
    # optional argument started: use option strings
    while IFS= read -r line; do COMPREPLY+=("$line"); done < <(
      compgen -W "${current_option_strings[*]}" -- "$completing_word")
  elif [[ "$previous_word" =~ ^[0-9\&]*[\<\>]\>?$ ]]; then
    # handle redirection operators
    compopt -o filenames 2>/dev/null || : # bash>=4
    while IFS= read -r line; do COMPREPLY+=("$line"); done < <(compgen -f -- "$completing_word")
  else
    # use choices & compgen
    local action_compgen_word="$completing_word"
    # handle tab-completing in the middle of a line (#248 <- #116)
    [[ -n "$current_action_compgen" && "$completing_word" == -* ]] && action_compgen_word=""
    [ -n "$current_action_compgen" ] && {
      [[ "$current_action_compgen" =~ _(file|dir|glob|FILE|DIR|GLOB)|File|Dir|Glob ]] &&
        compopt -o filenames 2>/dev/null || : # bash>=4
      while IFS= read -r line; do COMPREPLY+=("$line"); done < <(
        "$current_action_compgen" "$action_compgen_word")
    }
    while IFS= read -r line; do COMPREPLY+=("$line"); done < <(
      compgen -W "${current_action_choices[*]}" -- "$completing_word")
  fi

  if [[ ${#COMPREPLY[@]} = 0 ]]; then
    # native fallback matches are not necessarily filenames (e.g. variables)
    compopt +o filenames 2>/dev/null || : # bash>=4
  fi

  return 0
}

complete -o bashdefault -F _shtab_jar_tide jar-tide
