<div id="examples-list">
@if ($name === null)
    <p class="s">Once a table is kept, questions that it can answer stand here.</p>
@else
    <label class="visually-hidden" for="of">Examples made from</label>
    <select class="f my-2 !w-auto" id="of" name="of" hx-get="{{ route('queries.examples') }}" hx-target="#examples-list" hx-swap="outerHTML"
        hx-trigger="change">@foreach ($names as $one)<option @selected($one === $name)>{{ $one }}</option>@endforeach</select>
    @foreach ($examples as $one)<details class="border-b border-seam py-1 text-sm"><summary>{{ $one->title }}</summary>
        <pre class="m my-1 whitespace-pre-wrap">{{ $one->sql }}</pre>
        <button type="button" class="btn small" data-insert="{{ $one->sql }}">Write it</button></details>@endforeach
@endif
</div>
