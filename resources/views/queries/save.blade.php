<details class="menu" id="save-menu" @if ($errors->hasAny(['name', 'is_private', 'sql', 'delete'])) open @endif>
    <summary class="btn">{{ $query !== null && $mayChange ? 'Save' : ($query === null ? 'Save …' : 'Save as your own') }}</summary>
    <div class="w-80">
        <label class="block" for="name">Name</label>
        <input class="f" id="name" name="name" maxlength="190" value="{{ old('name', $mayChange ? $query?->name : '') }}" placeholder="what it answers">
        <label class="mt-2 block" for="description">Description</label>
        <textarea class="f" id="description" name="description" rows="2">{{ old('description', $mayChange ? $query?->description : '') }}</textarea>
        <label class="mt-2 block" for="labels">Labels <small>separated by commas</small></label>
        <input class="f" id="labels" name="labels" value="{{ old('labels', \App\Http\Queries\QuerySheet::labels($mayChange ? $query : null)) }}">
        <label class="mt-2 flex items-center gap-2"><input type="checkbox" name="private" value="1"
            @checked(old('private', $mayChange && $query?->is_private ? '1' : '') === '1')> only I see it</label>
        <p class="mt-3"><button class="btn go" id="save">{{ $query !== null && $mayChange ? 'Save' : 'Save the query' }}</button></p>
        @if ($query !== null && ! $mayChange)<p class="s mt-2">It belongs to {{ $query->user->name }}. What you save is a query of your own.</p>@endif
        @if ($query !== null && $mayChange)
            <p class="mt-3 border-t border-seam pt-2"><button class="link !text-iron" form="delete-query">Delete the query</button>
                @if ($query->keeps->isNotEmpty())<small>and {{ $query->keeps->pluck('name')->unique()->implode(', ') }}, which is kept of it</small>@endif</p>
            @error('delete')<p class="fault" role="alert">{{ $message }}</p>
                <label class="mt-1 flex items-center gap-2"><input type="checkbox" name="anyway" value="1" form="delete-query">
                    delete it all the same</label>@enderror
        @endif
    </div>
</details>
